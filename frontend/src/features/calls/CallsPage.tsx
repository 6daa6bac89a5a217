import { Box, Button, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue } from "react";
import { Link, useSearchParams } from "react-router";
import { WORDS } from "../../api/words";
import {
  Answer,
  Empty,
  ErrorNote,
  focusWhenShown,
  Head,
  Pending,
  Ruled,
  STATE_WORDS,
  TwoColumns,
  type JobState,
} from "../../shared";
import { callersQuery, useSettleCall } from "./api";

/** The telephone rings: the car found by whatever the caller says, and calls that are not settled. */
export function CallsPage() {
  const [params, setParams] = useSearchParams();
  const search = params.get("q") ?? "";
  const asked = useDeferredValue(search);
  const found = useQuery(callersQuery(asked));
  const settle = useSettleCall();
  return (
    <>
      <Head
        buttons={
          <>
            <Button component={Link} to="/customers">
              All customers
            </Button>
            <Button component={Link} to="/recall">
              Recall a lot
            </Button>
          </>
        }
      >
        <Answer why="Name, telephone, plate, VIN, film or lot: whatever the caller has at hand.">
          Who calls?
        </Answer>
      </Head>
      <TextField
        label="Find the car"
        value={search}
        inputRef={focusWhenShown}
        fullWidth
        onChange={(event) =>
          setParams(event.target.value ? { q: event.target.value } : {}, { replace: true })
        }
        sx={{ mb: 2, "& input": { fontSize: 24, py: 1.25 } }}
      />
      {found.isPending && <Pending what="the cars" />}
      {found.isError && <ErrorNote error={found.error} again={() => void found.refetch()} />}
      {found.data && (
        <TwoColumns shares="1.5fr 1fr">
          <Box>
            {asked.trim() !== "" && found.data.jobs.length === 0 && (
              <Empty
                words={`No car here has “${asked}”. Try the plate, a part of the name, or the telephone.`}
              />
            )}
            {found.data.jobs.map((job) => (
              <Box
                key={job.id}
                component="section"
                aria-label={`${String(job.number)} ${job.vehicle}`}
                sx={{ borderBottom: 1, borderColor: "divider", py: 1 }}
              >
                <Typography sx={{ fontWeight: 700, fontSize: 20 }}>
                  {job.customer || "nobody on file"} · {job.vehicle}
                </Typography>
                <Typography color="text.secondary">
                  {[job.plate, job.phone, `job ${String(job.number)}`, gone(job.handed_over_on, job.status)]
                    .filter(Boolean)
                    .join(" · ")}
                </Typography>
                <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", mt: 0.5 }}>
                  {job.windows.length === 0 && <Typography>No film on it.</Typography>}
                  {job.windows.map((one) => (
                    <Button
                      key={one.id}
                      component={Link}
                      to={`/calls/${one.id}`}
                      title={`${one.film}, lot ${one.lot}`}
                    >
                      {one.label}
                    </Button>
                  ))}
                </Box>
              </Box>
            ))}
          </Box>
          <Ruled title={`Open calls, ${String(found.data.open.length)}`}>
            {found.data.open.length === 0 && <Typography>None is open.</Typography>}
            {found.data.open.map((call) => (
              <Box key={call.id} sx={{ borderBottom: 1, borderColor: "divider", py: 0.75 }}>
                <Typography sx={{ fontWeight: 600 }}>{call.words}</Typography>
                <Typography color="text.secondary">
                  {WORDS.Outcome[call.outcome]}, {WORDS.Bears[call.bears]} · {call.person}
                </Typography>
                <Button size="small" component={Link} to={`/calls/${call.window_id}`}>
                  Open
                </Button>{" "}
                <Button
                  size="small"
                  variant="text"
                  disabled={settle.pending}
                  onClick={() => settle.write({ id: call.id, version: call.version, status: "done" })}
                >
                  Settled
                </Button>
              </Box>
            ))}
            {settle.error && <ErrorNote error={settle.error} />}
          </Ruled>
        </TwoColumns>
      )}
    </>
  );
}

const gone = (day: string, state: JobState) => (day ? `went ${day}` : STATE_WORDS[state]);

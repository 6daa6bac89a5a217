import { Box, Button, Typography } from "@mui/material";
import { useCallback } from "react";
import { Link, useSearchParams } from "react-router";
import type { Job, JobWindow } from "../../../api/client";
import { Answer, Empty, ErrorNote, Pending, PractiseButton, Row, Ruled, TwoColumns } from "../../../shared";
import { useBay } from "../bay";
import { DayPanel } from "../components/bay/DayPanel";
import { RoundCar } from "../components/bay/RoundCar";
import { RunScreen } from "../components/bay/RunScreen";
import { Times } from "../components/bay/Times";
import type { Bay } from "../logic/bay";

/** The car in the bay: in which order, where each window stands, what the day asks for; and from here into the run. */
export function BayStation({
  job,
  window,
  onSelect,
}: {
  job: Job;
  window: JobWindow | null;
  onSelect: (id: string | null) => void;
}) {
  const work = useBay(job);
  const [params, setParams] = useSearchParams();
  const open = useCallback(
    (name: string | null) =>
      setParams(
        (before) => {
          const next = new URLSearchParams(before);
          if (name) next.set("run", name);
          else next.delete("run");
          return next;
        },
        { replace: true },
      ),
    [setParams],
  );
  const { bay, query } = work;
  if (!bay)
    return query.isError ? (
      <ErrorNote error={query.error} again={() => void query.refetch()} />
    ) : (
      <Pending what="the work in the bay" />
    );
  const running = params.get("run");
  return (
    <>
      <Head job={job} bay={bay} onOpen={open} />
      {work.problem && <ErrorNote error={work.problem} />}
      <TwoColumns shares="1.5fr 1fr">
        <Box>
          {bay.order.length === 0 && !bay.runs.some((run) => run.strip) ? (
            <Empty words="No film is chosen on this car. Choose it at Shade; its runs are then made from what was surveyed.">
              <Button component={Link} to={`/jobs/${job.id}/shade`}>
                Shade
              </Button>
            </Empty>
          ) : (
            <RoundCar job={job} bay={bay} work={work} onOpen={open} onSelect={onSelect} />
          )}
        </Box>
        <Box>
          {window && (
            <Row>
              <PractiseButton on={{ window_id: window.id }} words={`Practise ${window.label}`} />
            </Row>
          )}
          <DayPanel bay={bay} happens={work.happens} />
          <ToPutBack bay={bay} />
          <Times bay={bay} happens={work.happens} />
        </Box>
      </TwoColumns>
      {running && bay.runs.some((run) => run.name === running) && (
        <RunScreen job={job} bay={bay} work={work} name={running} onOpen={open} onClose={() => open(null)} />
      )}
    </>
  );
}

function Head({ job, bay, onOpen }: { job: Job; bay: Bay; onOpen: (name: string) => void }) {
  const open = bay.runs.filter((run) => !run.done && run.steps.length > 0 && !run.held && run.name !== "end");
  const next =
    open.find((run) => run.begun) ?? open[0] ?? bay.runs.find((run) => run.name === "end" && !run.done);
  const stopped = bay.day.stop !== "" && bay.day.go_on === "";
  return (
    <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap", alignItems: "start", mb: 1 }}>
      <Box sx={{ flexGrow: 1, minWidth: 0 }}>
        <Answer
          tone={stopped ? "bad" : "open"}
          why={stopped ? `${bay.headline}. The lead may go on with a reason.` : bay.day.told.join(" ")}
        >
          {stopped ? bay.day.stop : bay.headline}
        </Answer>
      </Box>
      <Row>
        {next && bay.order.length > 0 && (
          <Button
            variant="contained"
            onClick={() => onOpen(next.name)}
            sx={{ minHeight: 56, fontSize: "1.2rem" }}
          >
            {next.begun ? "Go on" : "Begin"}: {next.label}
          </Button>
        )}
        <Button component="a" href={`/api/jobs/${job.id}/job-card.pdf`} target="_blank" rel="noreferrer">
          Job card
        </Button>
      </Row>
    </Box>
  );
}

/** What lies in the box: the car is not closed before it is empty. */
function ToPutBack({ bay }: { bay: Bay }) {
  if (bay.apart.length === 0) return null;
  return (
    <Ruled title={`To put back: ${String(bay.apart.length)}`}>
      {bay.apart.map((one) => (
        <Typography key={`${one.label} ${one.thing}`}>
          {one.thing} ({one.label})
        </Typography>
      ))}
    </Ruled>
  );
}

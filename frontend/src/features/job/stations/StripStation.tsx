import { Box, Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Job, JobWindow, Schemas } from "../../../api/client";
import { WORDS } from "../../../api/words";
import { Answer, Empty, ErrorNote, Pending, Ruled, Several, Tick, TwoColumns } from "../../../shared";
import { useWindowChange } from "../api";
import { stripOffQuery, useSetTools, useStripResult } from "../bay";
import { Acknowledge } from "../components/strip/Acknowledge";
import { LoudWord, StripResult } from "../components/strip/StripResult";
import { WaysTable } from "../components/strip/WaysTable";

type Car = Schemas["StripCarOut"];
export type StripWindow = Car["windows"][number];

/** Old film: by which way it comes off each window, what that costs and risks, who signed, and how it went. */
export function StripStation({
  job,
  window,
  onSelect,
}: {
  job: Job;
  window: JobWindow | null;
  onSelect: (id: string | null) => void;
}) {
  const found = useQuery(stripOffQuery(job.id, job.input_hash));
  const result = useStripResult(job.id);
  if (!found.data)
    return found.isError ? (
      <ErrorNote error={found.error} again={() => void found.refetch()} />
    ) : (
      <Pending what="the ways of taking film off" />
    );
  const car = found.data;
  const here = car.windows.find((one) => one.window_id === window?.id) ?? null;
  if (car.windows.length === 0)
    return (
      <>
        <Answer>{car.headline}</Answer>
        <Empty words="Say at Survey, window by window, where old film is on and comes off.">
          <Button component={Link} to={`/jobs/${job.id}/survey`}>
            Survey
          </Button>
        </Empty>
      </>
    );
  return (
    <>
      {result.data?.loud && <LoudWord words={result.data.loud} />}
      <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap", alignItems: "start" }}>
        <Box sx={{ flexGrow: 1, minWidth: 0 }}>
          <Answer
            tone={here?.ways[0]?.refused ? "bad" : "open"}
            why={`${car.headline}. ${price(car)} for all of it, ${range(car.work_minutes)} min of work.`}
          >
            {here ? here.sentence : car.headline}
          </Answer>
        </Box>
        <Button component="a" href={`/api/jobs/${job.id}/strip-off.pdf`} target="_blank" rel="noreferrer">
          Paper to sign
        </Button>
      </Box>
      <TwoColumns shares="1.7fr 1fr">
        <Box>
          {here ? (
            <OfWindow job={job} car={car} here={here} result={result} />
          ) : (
            <All car={car} onSelect={onSelect} />
          )}
        </Box>
        <Box>
          <Acknowledge job={job} car={car} />
          <AtHand job={job} car={car} />
          <Ruled title="Never">
            {car.never.map((words) => (
              <Typography key={words}>{words}</Typography>
            ))}
          </Ruled>
        </Box>
      </TwoColumns>
    </>
  );
}

export const range = ({ low, high }: { low: number; high: number }) =>
  low === high ? low.toFixed(0) : `${low.toFixed(0)} to ${high.toFixed(0)}`;

const price = (car: Car) => `${range(car.price)} $`;

function All({ car, onSelect }: { car: Car; onSelect: (id: string | null) => void }) {
  return (
    <Ruled title="Windows">
      {car.windows.map((one) => (
        <Box
          key={one.window_id}
          sx={{
            display: "flex",
            gap: 2,
            alignItems: "center",
            borderBottom: 1,
            borderColor: "divider",
            py: 0.5,
          }}
        >
          <Typography sx={{ flexGrow: 1 }}>
            <b>{one.label}</b>: {one.sentence}
            {one.removal_only && !one.off ? " · removal only" : ""}
          </Typography>
          <Button size="small" onClick={() => onSelect(one.window_id)}>
            Open
          </Button>
        </Box>
      ))}
    </Ruled>
  );
}

function OfWindow({
  job,
  car,
  here,
  result,
}: {
  job: Job;
  car: Car;
  here: StripWindow;
  result: ReturnType<typeof useStripResult>;
}) {
  const { change } = useWindowChange(job.id);
  if (here.off)
    return (
      <Empty
        words={
          here.removal_only
            ? "Old film is off, and no new film is chosen: the job may be closed without."
            : "Old film is off. Shade now goes by the bare glass."
        }
      >
        <Button component={Link} to={`/jobs/${job.id}/shade?w=${here.window_id}`}>
          Shade
        </Button>
      </Empty>
    );
  return (
    <>
      {here.told.map((words) => (
        <Typography key={words} sx={{ fontWeight: 700 }}>
          {words}
        </Typography>
      ))}
      <WaysTable here={here} onChoose={(strip_way) => change(here.window_id, { strip_way })} />
      <Tick
        label="It may stay overnight"
        value={here.night}
        onChange={(strip_night) => change(here.window_id, { strip_night })}
      />
      {here.changes.length > 0 && (
        <Ruled title="What would change this">
          {here.changes.map((words) => (
            <Typography key={words}>{words}</Typography>
          ))}
        </Ruled>
      )}
      <Ruled title="Glue that stays">
        <Typography>
          {here.glue.words}, {range(here.glue.minutes)} min where all of it stays.
        </Typography>
        {here.glue.refused.map((words) => (
          <Typography key={words} color="error.main">
            ✕ {words}
          </Typography>
        ))}
      </Ruled>
      <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap" }}>
        {here.acknowledged ? (
          <Button
            variant="contained"
            component={Link}
            to={`/jobs/${job.id}/bay?run=strip:${here.window_id}`}
            sx={{ minHeight: 56, fontSize: "1.1rem" }}
          >
            {here.begun ? "Go on taking it off" : "Begin taking it off"}
          </Button>
        ) : (
          <Typography sx={{ fontWeight: 700 }}>
            The run starts once risk and price are signed: see right.
          </Typography>
        )}
      </Box>
      <StripResult job={job} here={here} send={result} key={here.window_id} />
      {car.tools.length === 0 && <Typography color="error.main">No tool is at hand.</Typography>}
    </>
  );
}

function AtHand({ job, car }: { job: Job; car: Car }) {
  const set = useSetTools(job.id);
  return (
    <Ruled title="At hand">
      <Box sx={{ display: "grid", "& > *": { minWidth: 0 } }}>
        <Several
          label="Tools for taking film off"
          value={car.tools}
          options={WORDS.Tool}
          none="nothing"
          onChange={(tools) => set.write({ tools, version: car.tools_version })}
        />
      </Box>
      {set.error && <ErrorNote error={set.error} />}
    </Ruled>
  );
}

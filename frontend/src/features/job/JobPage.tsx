import { Box, Button, Typography } from "@mui/material";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useCallback, useEffect, useLayoutEffect, useMemo, useRef } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import type { Job } from "../../api/client";
import {
  Answer,
  Empty,
  ErrorNote,
  Pending,
  showPromise,
  useHotkeys,
  useSmallScreen,
  VerdictMark,
} from "../../shared";
import { jobQuery, planQuery, taskQuery, useFollowJob } from "./api";
import { ConflictDialog } from "./components/ConflictDialog";
import { Deeds } from "./components/Deeds";
import { RedoOf } from "./components/handover/Redo";
import { Band, stationMark } from "./components/Band";
import { StationLine, STATIONS } from "./components/StationLine";
import { VehicleFacts } from "./components/survey/VehicleFacts";

const SurveyStation = lazy(async () => ({
  default: (await import("./stations/SurveyStation")).SurveyStation,
}));
const ShadeStation = lazy(async () => ({ default: (await import("./stations/ShadeStation")).ShadeStation }));
const CutStation = lazy(async () => ({ default: (await import("./stations/CutStation")).CutStation }));

const HeatStation = lazy(async () => ({ default: (await import("./stations/HeatStation")).HeatStation }));

const BayStation = lazy(async () => ({ default: (await import("./stations/BayStation")).BayStation }));
const LookStation = lazy(async () => ({ default: (await import("./stations/LookStation")).LookStation }));
const HandoverStation = lazy(async () => ({
  default: (await import("./stations/HandoverStation")).HandoverStation,
}));
const QuoteStation = lazy(async () => ({ default: (await import("./stations/QuoteStation")).QuoteStation }));
const StripStation = lazy(async () => ({ default: (await import("./stations/StripStation")).StripStation }));

/** Keys: a number each, a sign for each siding. */
const KEYS = STATIONS.map(([name]) => [stationMark(name).toLowerCase(), name] as const);

/**
 * One car: its glass on top, the stations below, the panel of the station for the picked window. Another car begins
 * anew: what was being typed on this one is not carried over.
 */
export function JobPage() {
  const { jobId = "", station = "survey" } = useParams();
  const job = useQuery(jobQuery(jobId));
  if (job.isPending) return <Pending what="the job" />;
  if (job.isError) return <ErrorNote error={job.error} again={() => void job.refetch()} />;
  if (job.data.removed)
    return (
      <Empty words="This job is archived.">
        <Button component={Link} to="/jobs?archived=1">
          Archived jobs
        </Button>
      </Empty>
    );
  if (job.data.stuck !== null) return <StuckJob job={job.data} why={job.data.stuck} />;
  return (
    <>
      <Following jobId={jobId} />
      <ConflictDialog names={Object.fromEntries(job.data.films.map((film) => [film.id, film.name]))} />
      <OpenJob key={jobId} job={job.data} station={station} />
    </>
  );
}

function Following({ jobId }: { jobId: string }) {
  useFollowJob(jobId);
  return null;
}

/** Nothing can be worked out for it: why, and what of it can still be changed. */
function StuckJob({ job, why }: { job: Job; why: string }) {
  return (
    <>
      <JobHead job={job} />
      <Answer tone="bad" why={why}>
        This job is stuck
      </Answer>
      <Typography sx={{ mb: 2 }}>
        All that was entered is kept. Nothing else in the shop is touched by it.
      </Typography>
      <VehicleFacts job={job} />
    </>
  );
}

function OpenJob({ job, station }: { job: Job; station: string }) {
  const client = useQueryClient();
  const [params, setParams] = useSearchParams();
  const asked = params.get("w");
  const selected =
    asked === "all" ? null : (job.windows.find((window) => window.id === asked) ?? job.windows[0] ?? null);
  const anyFilm = job.windows.some((window) => window.film_id !== null);
  // The plan is asked for as soon as there is something to cut, so that it is there when looked at.
  const asking = useQuery({ ...planQuery(job.id, job.input_hash), enabled: anyFilm });
  const task = useQuery(taskQuery(anyFilm ? asking.data?.id : undefined));
  const done = task.data?.status === "done" ? task.data.id : undefined;
  const setAside = task.data?.status === "cancelled" && task.data.input_hash === job.input_hash;
  useEffect(() => {
    // A finished plan ticks its windows off at Cut.
    if (done !== undefined) void client.invalidateQueries({ queryKey: jobQuery(job.id).queryKey });
  }, [client, done, job.id]);

  useEffect(() => {
    // The job was changed and changed back: its plan was set aside meanwhile, and is wanted again.
    if (setAside) void client.invalidateQueries({ queryKey: planQuery(job.id, job.input_hash).queryKey });
  }, [client, setAside, job.id, job.input_hash]);

  const select = useWalk(job, selected?.id ?? null, setParams);
  const error = asking.error ?? task.error;
  const small = useSmallScreen();
  return (
    <>
      <JobHead job={job} />
      <Band job={job} selected={selected?.id ?? null} onSelect={select} />
      <StationLine job={job} station={station} search={params.toString()}>
        <Button variant="text" onClick={() => select(selected ? null : (job.windows[0]?.id ?? null))}>
          {selected ? "Whole car" : small ? "By window" : "Window by window"}
        </Button>
      </StationLine>
      <Suspense fallback={<Pending what="the station" />}>
        {station === "survey" && <SurveyStation job={job} window={selected} onSelect={select} />}
        {station === "shade" && <ShadeStation job={job} window={selected} onSelect={select} />}
        {station === "cut" && (
          <CutStation
            job={job}
            window={selected}
            task={task.data}
            anyFilm={anyFilm}
            error={error}
            onSelect={select}
          />
        )}
        {station === "heat" && <HeatStation job={job} window={selected} onSelect={select} />}
        {station === "bay" && <BayStation job={job} window={selected} onSelect={select} />}
        {station === "look" && <LookStation job={job} window={selected} onSelect={select} />}
        {station === "handover" && <HandoverStation job={job} />}
        {station === "quote" && <QuoteStation job={job} />}
        {station === "strip_off" && <StripStation job={job} window={selected} onSelect={select} />}
        {!STATIONS.some(([name]) => name === station) && (
          <Empty words={`There is no station “${station}”.`}>
            <Button component={Link} to={`/jobs/${job.id}/survey`}>
              Survey
            </Button>
          </Empty>
        )}
      </Suspense>
      {small && (
        <Box sx={{ display: "flex", gap: 2, mt: 3, flexWrap: "wrap", alignItems: "center" }}>
          <Typography color="text.secondary">
            {job.number} · {job.vehicle_label} · {job.states.join(", ")} · {showPromise(job.promised_at)}
          </Typography>
          <Deeds job={job} />
        </Box>
      )}
    </>
  );
}

type SetParams = ReturnType<typeof useSearchParams>[1];

/** Keys that walk round the car and along the stations; the answer picks a window, or the whole car. */
function useWalk(job: Job, selected: string | null, setParams: SetParams) {
  const navigate = useNavigate();
  // Where the walk is now, also between two quick key presses.
  const here = useRef(selected);
  const shown = useRef(selected);
  const asked = useRef<string | null | undefined>(undefined);
  // At once with the screen, not some time after it; what is shown on the way to what was asked for is passed over.
  useLayoutEffect(() => {
    shown.current = selected;
    if (asked.current !== undefined && asked.current !== selected) return;
    asked.current = undefined;
    here.current = selected;
  }, [selected]);
  const select = useCallback(
    (id: string | null) => {
      here.current = id;
      asked.current = id === shown.current ? undefined : id;
      setParams({ w: id ?? "all" }, { replace: true });
    },
    [setParams],
  );
  const keys = useMemo(() => {
    const step = (by: number) => {
      const index = job.windows.findIndex((window) => window.id === here.current);
      const next = job.windows[(index + by + job.windows.length) % job.windows.length];
      if (next) select(next.id);
    };
    const open = (name: string) => () =>
      void navigate({ pathname: `/jobs/${job.id}/${name}`, search: window.location.search });
    return {
      ...Object.fromEntries(KEYS.map(([key, name]) => [key, open(name)])),
      ArrowRight: () => step(1),
      ArrowLeft: () => step(-1),
      Home: () => select(null),
    };
  }, [job, navigate, select]);
  useHotkeys(keys);
  return select;
}

/** How the car stands: what is held back before what the law says. */
function Standing({ job }: { job: Job }) {
  const held = job.windows.filter((window) => window.held !== null).length;
  if (held === 0) return <VerdictMark word={job.worst} />;
  return (
    <Typography component={Link} to={`/jobs/${job.id}/cut`} sx={{ color: "error.main", fontWeight: 700 }}>
      {held} held back
    </Typography>
  );
}

function JobHead({ job }: { job: Job }) {
  const small = useSmallScreen();
  return (
    <Box
      sx={{ display: "flex", columnGap: 2, rowGap: 0.25, alignItems: "center", flexWrap: "wrap", mb: 0.5 }}
    >
      <Typography variant="h1">{job.title}</Typography>
      <RedoOf job={job} />
      <Typography color="text.secondary" sx={small ? { display: "none" } : {}}>
        {job.number} · {job.vehicle_label} · {job.states.join(", ")} · {showPromise(job.promised_at)}
      </Typography>
      {job.stuck === null && <Standing job={job} />}
      <Box sx={{ flexGrow: 1 }} />
      {!small && (
        <Box sx={{ display: "flex", gap: 2 }}>
          <Deeds job={job} />
        </Box>
      )}
    </Box>
  );
}

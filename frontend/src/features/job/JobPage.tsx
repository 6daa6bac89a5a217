import { Box, Button, MenuItem, Select, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useCallback, useEffect, useMemo, useRef } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import type { Job } from "../../api/client";
import { Empty, ErrorNote, Pending, showPromise, useHotkeys } from "../../shared";
import { jobQuery, layoutQuery, solveQuery, useJobChange } from "./api";
import { Band, CarVerdict } from "./components/Band";

const SurveyStation = lazy(async () => ({ default: (await import("./stations/SurveyStation")).SurveyStation }));
const ShadeStation = lazy(async () => ({ default: (await import("./stations/ShadeStation")).ShadeStation }));
const CutStation = lazy(async () => ({ default: (await import("./stations/CutStation")).CutStation }));

const STATIONS = [
  ["survey", "Survey"],
  ["shade", "Shade"],
  ["cut", "Cut"],
] as const;

/** One car: its glass on top, the stations below, the panel of the station for the picked window. */
export function JobPage() {
  const { jobId = "", station = "survey" } = useParams();
  const job = useQuery(jobQuery(jobId));
  if (job.isPending) return <Pending what="the job" />;
  if (job.isError) return <ErrorNote error={job.error} again={() => void job.refetch()} />;
  if (job.data.removed) return <Empty words="This job was taken off the lists."><Button component={Link} to="/jobs">All jobs</Button></Empty>;
  return <OpenJob job={job.data} station={station} />;
}

function OpenJob({ job, station }: { job: Job; station: string }) {
  const navigate = useNavigate();
  const [params, setParams] = useSearchParams();
  const asked = params.get("w");
  const whole = asked === "all";
  const selected = whole ? null : (job.windows.find((window) => window.id === asked) ?? job.windows[0] ?? null);
  const anyFilm = job.windows.some((window) => window.film_id !== null);
  // The layout is asked for as soon as there is something to cut, so that it is there when looked at.
  const layout = useQuery({ ...layoutQuery(job.id, job.input_hash), enabled: anyFilm });
  const solve = useQuery(solveQuery(anyFilm ? layout.data?.id : undefined));
  const plan = solve.data?.plan ?? null;
  const cutWindows = useMemo(() => new Set(plan?.films.flatMap((film) => film.pieces.map((piece) => piece.window_id)) ?? []), [plan]);

  // Where the walk is now, also between two quick key presses.
  const here = useRef(selected?.id ?? null);
  useEffect(() => { here.current = selected?.id ?? null; }, [selected?.id]);
  const select = useCallback(
    (id: string | null) => {
      here.current = id;
      setParams({ w: id ?? "all" }, { replace: true });
    },
    [setParams],
  );
  const keys = useMemo(() => {
    const open = (name: string) => void navigate({ pathname: `/jobs/${job.id}/${name}`, search: window.location.search }, { replace: true });
    const step = (by: number) => {
      const index = job.windows.findIndex((window) => window.id === here.current);
      const next = job.windows[(index + by + job.windows.length) % job.windows.length];
      if (next) select(next.id);
    };
    return {
      "1": () => { open("survey"); },
      "2": () => { open("shade"); },
      "3": () => { open("cut"); },
      ArrowRight: () => { step(1); },
      ArrowLeft: () => { step(-1); },
      Home: () => { select(null); },
    };
  }, [job, navigate, select]);
  useHotkeys(keys);
  return (
    <>
      <JobLineHead job={job} />
      <Band job={job} selected={selected?.id ?? null} cutWindows={cutWindows} onSelect={select} />
      <Box component="nav" aria-label="Stations" sx={{ display: "flex", flexWrap: "wrap", gap: 0, mt: 1, mb: 2, borderBottom: 1, borderColor: "divider", "@media print": { display: "none" } }}>
        {STATIONS.map(([name, words], i) => {
          const here = name === station;
          return (
            <Box
              key={name}
              component={Link}
              replace
              to={{ pathname: `/jobs/${job.id}/${name}`, search: params.toString() }}
              aria-current={here ? "page" : undefined}
              sx={{ px: 2.5, py: 1, color: here ? "background.default" : "text.primary", bgcolor: here ? "text.primary" : "transparent", textDecoration: "none", fontWeight: 700, fontSize: "1.1rem" }}
            >
              <Box component="span" sx={{ opacity: 0.75, mr: 1, fontWeight: 500 }}>{i + 1}</Box>{words}
            </Box>
          );
        })}
        <Box sx={{ flexGrow: 1 }} />
        <Button variant="text" onClick={() => { select(selected ? null : (job.windows[0]?.id ?? null)); }}>
          {selected ? "Whole car" : "Window by window"}
        </Button>
      </Box>
      <Suspense fallback={<Pending what="the station" />}>
        {station === "survey" && <SurveyStation job={job} window={selected} onSelect={select} />}
        {station === "shade" && <ShadeStation job={job} window={selected} onSelect={select} />}
        {station === "cut" && <CutStation job={job} window={selected} solve={solve.data} anyFilm={anyFilm} error={layout.error ?? solve.error} onSelect={select} />}
        {!STATIONS.some(([name]) => name === station) && <Empty words={`There is no station “${station}”.`}><Button component={Link} to={`/jobs/${job.id}/survey`}>Survey</Button></Empty>}
      </Suspense>
    </>
  );
}

const STATUSES: [Job["status"], string][] = [["booked", "booked"], ["in_bay", "in the bay"], ["paused", "paused"], ["done", "done"]];

function JobLineHead({ job }: { job: Job }) {
  const { change } = useJobChange(job.id);
  return (
    <Box sx={{ display: "flex", gap: 2, alignItems: "center", flexWrap: "wrap", mb: 0.5 }}>
      <Typography variant="h1">{job.title}</Typography>
      <Typography color="text.secondary">
        {job.number} · {job.vehicle_label} · {job.states.join(", ")} · {showPromise(job.promised_at)}
      </Typography>
      <CarVerdict job={job} />
      <Box sx={{ flexGrow: 1 }} />
      <Select value={job.status} onChange={(event) => { change({ status: event.target.value as Job["status"] }); }} inputProps={{ "aria-label": "Job status" }}>
        {STATUSES.map(([value, words]) => (
          <MenuItem key={value} value={value}>{words}</MenuItem>
        ))}
      </Select>
      <Button component="a" href={`/api/jobs/${job.id}/export`} download>Save as file</Button>
    </Box>
  );
}

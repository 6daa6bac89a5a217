import { Box, Button, LinearProgress, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Job, JobWindow, Task } from "../../../api/client";
import { WORDS } from "../../../api/words";
import { Answer, BladeCaution, CutBoard, Empty, ErrorNote, Row, StopButton } from "../../../shared";
import { useStopTask } from "../api";

interface Props {
  job: Job;
  window: JobWindow | null;
  task: Task | undefined;
  anyFilm: boolean;
  error: unknown;
  onSelect: (id: string | null) => void;
}

type Plan = NonNullable<Task["plan"]>;

/** Which roll, which way round, how long a cut, what is left. */
export function CutStation({ job, window, task, anyFilm, error, onSelect }: Props) {
  if (!anyFilm)
    return (
      <>
        <Answer>Nothing to cut yet</Answer>
        <Empty words="No window has a film. Choose one at Shade, then the cut plan comes by itself.">
          <Button component={Link} to={`/jobs/${job.id}/shade`}>
            Shade
          </Button>
        </Empty>
      </>
    );
  if (error) return <ErrorNote error={error} />;
  // A plan of an older state of the job is not shown: it could be cut by mistake.
  const current = task && task.input_hash === job.input_hash ? task : undefined;
  const plan = current?.plan;
  const working = !current || !["done", "failed"].includes(current.status);
  return (
    <>
      {working && <Working task={current} />}
      {current?.status === "failed" && <ErrorNote error={current.error} />}
      {plan?.films.map((film) => (
        <CutBoard key={film.film_id} plan={film} lit={window?.id ?? null} onPick={onSelect} />
      ))}
      {plan?.held.map((held) => (
        <Held key={held.window_id} job={job} held={held} />
      ))}
      {plan && <Papers job={job} plan={plan} ready={current.status === "done"} />}
    </>
  );
}

function Working({ task }: { task: Task | undefined }) {
  const stop = useStopTask();
  return (
    <Box role="status" sx={{ mb: 1 }}>
      <Row>
        <Typography sx={{ fontWeight: 700 }}>
          {task?.plan ? "Verified, improving …" : "Laying out the pieces …"}
        </Typography>
        {task?.plan && <StopButton disabled={stop.pending} onStop={() => stop.write(task.id)} />}
      </Row>
      <LinearProgress
        color="secondary"
        aria-label="Layout is being improved"
        sx={{ maxWidth: 420, mt: 0.5 }}
      />
    </Box>
  );
}

function Held({ job, held }: { job: Job; held: Plan["held"][number] }) {
  const words: string = (WORDS.Station as Record<string, string>)[held.station] ?? held.station;
  return (
    <Box
      role="alert"
      sx={{ borderLeft: 6, borderColor: "error.main", bgcolor: "background.paper", p: 1.5, my: 1 }}
    >
      <b>{held.label} is not cut.</b> {held.reason}{" "}
      <Button size="small" component={Link} to={`/jobs/${job.id}/${held.station}?w=${held.window_id}`}>
        {words}
      </Button>
    </Box>
  );
}

function Papers({ job, plan, ready }: { job: Job; plan: Plan; ready: boolean }) {
  const sheet = `/api/jobs/${job.id}/cut-sheet.pdf`;
  return (
    <Box sx={{ mt: 2, "@media print": { display: "none" } }}>
      <Row>
        <Button
          component="a"
          variant="contained"
          color="secondary"
          href={`${sheet}?paper=letter`}
          download
          aria-disabled={!ready}
          disabled={!ready}
        >
          Cut sheet, Letter
        </Button>
        <Button component="a" href={`${sheet}?paper=a4`} download disabled={!ready}>
          Cut sheet, A4
        </Button>
        {plan.films.map((film) => (
          <Button
            key={film.film_id}
            component="a"
            href={`/api/jobs/${job.id}/layout.svg?film_id=${film.film_id}`}
            download
            disabled={!ready}
          >
            SVG, {film.film_name}
          </Button>
        ))}
        <BladeCaution />
      </Row>
    </Box>
  );
}

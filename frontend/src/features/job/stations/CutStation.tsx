import { Box, Button, LinearProgress, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Job, JobWindow, Solve } from "../../../api/client";
import { Answer, BladeCaution, CutBoard, Empty, ErrorNote, StopButton } from "../../../shared";
import { useStopSolve } from "../api";

interface Props {
  job: Job;
  window: JobWindow | null;
  solve: Solve | undefined;
  anyFilm: boolean;
  error: unknown;
  onSelect: (id: string | null) => void;
}

/** Which roll, which way round, how long a cut, what is left. */
export function CutStation({ job, window, solve, anyFilm, error, onSelect }: Props) {
  const stop = useStopSolve();
  if (!anyFilm)
    return (
      <>
        <Answer>Nothing to cut yet</Answer>
        <Empty words="No window has a film. Choose one at Shade, then the cut plan comes by itself."><Button component={Link} to={`/jobs/${job.id}/shade`}>Shade</Button></Empty>
      </>
    );
  if (error) return <ErrorNote error={error} />;
  // A plan of an older state of the job is not shown: it could be cut by mistake.
  const current = solve && solve.input_hash === job.input_hash ? solve : undefined;
  const plan = current?.plan;
  const working = !current || ["queued", "running"].includes(current.status);
  return (
    <>
      {working && (
        <Box role="status" sx={{ mb: 1 }}>
          <Box sx={{ display: "flex", gap: 2, alignItems: "center" }}>
            <Typography sx={{ fontWeight: 700 }}>{plan ? "Verified, improving …" : "Laying out the pieces …"}</Typography>
            {current && plan && <StopButton disabled={stop.isPending} onStop={() => { stop.mutate(current.id); }} />}
          </Box>
          <LinearProgress color="secondary" aria-label="Layout is being improved" sx={{ maxWidth: 420, mt: 0.5 }} />
        </Box>
      )}
      {current?.status === "failed" && <ErrorNote error={new Error(current.error)} />}
      {current?.status === "failed" && <Typography>{current.error}</Typography>}
      {plan?.films.map((film) => (
        <CutBoard key={film.film_id} plan={film} lit={window?.id ?? null} onPick={onSelect} />
      ))}
      {plan?.held.map((held) => (
        <Box key={held.window_id} role="alert" sx={{ borderLeft: 6, borderColor: "error.main", bgcolor: "background.paper", p: 1.5, my: 1 }}>
          <b>{held.label} is not cut.</b> {held.reason} <Button size="small" component={Link} to={`/jobs/${job.id}/survey?w=${held.window_id}`}>Survey</Button>
        </Box>
      ))}
      {plan && (
        <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap", alignItems: "center", mt: 2, "@media print": { display: "none" } }}>
          <Button component="a" variant="contained" color="secondary" href={`/api/jobs/${job.id}/cut-sheet.pdf?paper=letter`} download aria-disabled={working} disabled={working || current.status !== "done"}>Cut sheet, Letter</Button>
          <Button component="a" href={`/api/jobs/${job.id}/cut-sheet.pdf?paper=a4`} download disabled={working || current.status !== "done"}>Cut sheet, A4</Button>
          {plan.films.map((film) => (
            <Button key={film.film_id} component="a" href={`/api/jobs/${job.id}/layout.svg?film_id=${film.film_id}`} download disabled={working || current.status !== "done"}>SVG, {film.film_name}</Button>
          ))}
          <BladeCaution />
        </Box>
      )}
    </>
  );
}

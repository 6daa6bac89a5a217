import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  LinearProgress,
} from "@mui/material";
import { queryOptions, skipToken, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, newWriteId, writeHeaders, type Job } from "../../../api/client";
import { Problem, unwrap } from "../../../api/unwrap";
import { CutBoard, ErrorNote, TextLine, useSettings, withUnit } from "../../../shared";
import { taskQuery } from "../api";

interface Size {
  width: string;
  length: string;
}

const sheetQuery = (job: Job, asked: Size | null) =>
  queryOptions({
    queryKey: ["plans", "sheet", job.id, job.input_hash, asked?.width, asked?.length],
    queryFn:
      asked === null
        ? skipToken
        : () =>
            unwrap(
              api.POST("/api/jobs/{id}/sheet", {
                params: { path: { id: job.id } },
                body: asked,
                headers: writeHeaders(newWriteId()),
              }),
            ),
    staleTime: Infinity,
    retry: false,
  });

/** Whether this job's pieces go on one bought sheet of each film, by blanks and along their outlines. */
export function OnSheet({ job }: { job: Job }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setOpen(true)}>On a bought sheet?</Button>
      {open && <SheetDialog job={job} onClose={() => setOpen(false)} />}
    </>
  );
}

function SheetDialog({ job, onClose }: { job: Job; onClose: () => void }) {
  const { unit } = useSettings();
  const [size, setSize] = useState<Size>({ width: "24 in", length: "6 ft 6 in" });
  const [asked, setAsked] = useState<Size | null>({ width: "24 in", length: "6 ft 6 in" });
  const started = useQuery(sheetQuery(job, asked));
  const task = useQuery(taskQuery(started.data?.id));
  const fields = started.error instanceof Problem ? started.error.fields : {};
  const plan = task.data?.plan;
  const over = task.data && ["done", "failed"].includes(task.data.status);
  const given = (text: string) => withUnit(text, unit);
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="sheet-title">
      <DialogTitle id="sheet-title">On a bought sheet of each film</DialogTitle>
      <DialogContent>
        <Box sx={{ display: "flex", gap: 1.5, my: 1, flexWrap: "wrap", alignItems: "start" }}>
          <TextLine
            label="Sheet, width"
            value={size.width}
            problem={fields["width"]}
            onChange={(width) => setSize({ ...size, width })}
          />
          <TextLine
            label="Sheet, length"
            value={size.length}
            problem={fields["length"]}
            onChange={(length) => setSize({ ...size, length })}
          />
          <Button
            variant="contained"
            color="secondary"
            onClick={() => setAsked({ width: given(size.width), length: given(size.length) })}
          >
            Lay it out
          </Button>
        </Box>
        {started.error && Object.keys(fields).length === 0 && <ErrorNote error={started.error} />}
        {task.data?.status === "failed" && <ErrorNote error={task.data.error} />}
        {asked !== null && !over && !started.error && (
          <LinearProgress color="secondary" aria-label="Layout is being improved" />
        )}
        {plan?.films.map((film) => (
          <CutBoard key={film.film_id} plan={film} films={plan.films} mends={null} above={420} />
        ))}
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}

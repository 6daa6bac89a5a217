import { Box, Button, Checkbox, FormControlLabel, Typography } from "@mui/material";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Job } from "../../../../api/client";
import { ErrorNote, Ruled } from "../../../../shared";
import { useRedo } from "../../handover";

/** A redo is a job of its own: this car stays as it went. */
export function Redo({ job }: { job: Job }) {
  const redo = useRedo(job.id);
  const navigate = useNavigate();
  const [windows, setWindows] = useState<string[]>([]);
  const filmed = job.windows.filter((one) => one.film_id !== null);
  return (
    <Ruled title="Redo">
      {job.redone_in.map((one) => (
        <Typography key={one.id}>
          Redone on <Link to={`/jobs/${one.id}/survey`}>job {one.number}</Link>.
        </Typography>
      ))}
      <Typography>A new job takes the same glass and film; its old film comes off first.</Typography>
      <Box role="group" aria-label="Windows to redo">
        {filmed.map((one) => (
          <FormControlLabel
            key={one.id}
            label={one.label}
            control={
              <Checkbox
                checked={windows.includes(one.id)}
                onChange={(_, on) =>
                  setWindows(on ? [...windows, one.id] : windows.filter((id) => id !== one.id))
                }
              />
            }
          />
        ))}
      </Box>
      <Button
        disabled={windows.length === 0 || redo.pending}
        onClick={() =>
          redo.write({ windows }, { onSuccess: (made) => void navigate(`/jobs/${made.id}/survey`) })
        }
      >
        New job to redo {windows.length > 1 ? `${String(windows.length)} windows` : "it"}
      </Button>
      {redo.error && <ErrorNote error={redo.error} />}
    </Ruled>
  );
}

/** On the job that mends: which delivered car it is about. */
export function RedoOf({ job }: { job: Job }) {
  if (!job.redo_of) return null;
  return (
    <Typography>
      Redo of <Link to={`/jobs/${job.redo_of.id}/handover`}>job {job.redo_of.number}</Link>.
    </Typography>
  );
}

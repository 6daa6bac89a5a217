import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import type { Job } from "../../../../api/client";
import { ErrorNote, SameCarAs } from "../../../../shared";
import { useFillFromShelf } from "../../survey";

/** A car that is on the shelf already needs no tape: every window takes its glass from there. */
export function TakeFromShelf({ job, onClose }: { job: Job; onClose: () => void }) {
  const fill = useFillFromShelf(job.id);
  const [car, setCar] = useState<string | null>(null);
  const read = job.windows.filter((window) => Object.keys(window.readings).length > 0).length;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="take-title">
      <DialogTitle id="take-title">Same car as</DialogTitle>
      <DialogContent>
        {fill.error && <ErrorNote error={fill.error} />}
        <SameCarAs chosen={car} onPick={(picked) => setCar(picked?.id ?? null)} />
        {read > 0 && (
          <Typography>
            {read} {read === 1 ? "window has" : "windows have"} readings of their own; the shelf’s take their
            place.
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it</Button>
        <Button
          variant="contained"
          color="secondary"
          disabled={car === null || fill.pending}
          onClick={() => {
            if (car) fill.write(car, { onSuccess: onClose });
          }}
        >
          Take its glass
        </Button>
      </DialogActions>
    </Dialog>
  );
}

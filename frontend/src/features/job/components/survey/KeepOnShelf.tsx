import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import type { Job } from "../../../../api/client";
import { Problem } from "../../../../api/unwrap";
import { ErrorNote, useShelfCarFields } from "../../../../shared";
import { useKeepOnShelf } from "../../survey";

/** This car's glass, kept so that no pane of it is ever measured twice. */
export function KeepOnShelf({ job, onClose }: { job: Job; onClose: () => void }) {
  const keep = useKeepOnShelf(job.id);
  const years = job.model_year === null ? "" : String(job.model_year);
  const { said, ready, show } = useShelfCarFields({ name: job.vehicle_label, years, doors: null, trim: "" });
  const fields = keep.error instanceof Problem ? keep.error.fields : {};
  const measured = job.windows.filter((one) => one.pane.measured || one.pane.width_mm !== null).length;
  const put = () => keep.write({ ...said, job_id: job.id }, { onSuccess: onClose });
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="keep-title">
      <DialogTitle id="keep-title">Keep this car’s glass on the shelf</DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 1 }}>
          {measured} of {job.windows.length} panes are measured. What belongs to the model goes with them:
          borders, brake light, defroster. What belongs to this very car, such as worn seals, stays here.
        </Typography>
        {keep.error && Object.keys(fields).length === 0 && <ErrorNote error={keep.error} />}
        {show(fields)}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Not now</Button>
        <Button variant="contained" color="secondary" disabled={keep.pending || !ready} onClick={put}>
          Keep it
        </Button>
      </DialogActions>
    </Dialog>
  );
}

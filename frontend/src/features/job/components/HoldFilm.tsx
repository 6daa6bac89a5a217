import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import type { Job, Task } from "../../../api/client";
import { Problem } from "../../../api/unwrap";
import { DayField, ErrorNote, Row, useSettings } from "../../../shared";
import { useHold, useJobChange } from "../api";

type Plan = NonNullable<Task["plan"]>;

/** Holds the film that this plan takes; where no day is promised, asks until when. */
export function HoldFilm({ job, ready }: { job: Job; ready: boolean }) {
  const hold = useHold(job.id);
  const [asking, setAsking] = useState(false);
  const [until, setUntil] = useState<string | null>(null);
  const send = () =>
    hold.hold(job.input_hash, until, {
      onSuccess: () => setAsking(false),
      onError: (error) => {
        if (error instanceof Problem && error.fields["until"]) setAsking(true);
      },
    });
  return (
    <>
      <Button disabled={!ready || hold.pending} onClick={send} sx={{ "@media print": { display: "none" } }}>
        Hold this film
      </Button>
      {asking && (
        <Dialog open onClose={() => setAsking(false)} maxWidth="xs" aria-labelledby="hold-title">
          <DialogTitle id="hold-title">Hold this film until when?</DialogTitle>
          <DialogContent>
            {hold.error && <ErrorNote error={hold.error} />}
            <Box sx={{ mt: 1 }}>
              <DayField label="To the end of" value={until} onChange={setUntil} />
            </Box>
          </DialogContent>
          <DialogActions>
            <Button variant="text" onClick={() => setAsking(false)}>
              Do not hold it
            </Button>
            <Button variant="contained" color="secondary" disabled={!until || hold.pending} onClick={send}>
              Hold it
            </Button>
          </DialogActions>
        </Dialog>
      )}
    </>
  );
}

/** What is held for this job, and what of its films others hold. */
export function Held({ job, plan }: { job: Job; plan: Plan | null | undefined }) {
  const hold = useHold(job.id);
  const { change } = useJobChange(job.id);
  const { showLength } = useSettings();
  const short = plan?.films.some((film) => film.unplaced.length > 0) ?? false;
  const reserved = plan?.reserved ?? [];
  if (job.holds.length === 0 && reserved.length === 0 && !job.into_holds) return null;
  return (
    <Box sx={{ my: 1 }}>
      {job.holds.length > 0 && (
        <Row>
          <Typography>
            <b>Held for this job</b> until {job.holds[0]?.until}:{" "}
            {job.holds.map((one) => `${showLength(one.length_mm)} of ${one.label}`).join(", ")}
          </Typography>
          <Button size="small" disabled={hold.pending} onClick={() => hold.release()}>
            Release it
          </Button>
        </Row>
      )}
      {reserved.map((one) => (
        <Typography key={`${one.stock_id} ${one.words}`}>
          <b>
            {showLength(one.length_mm)} of {one.label} are held
          </b>{" "}
          by {one.words}; this plan leaves them alone.
        </Typography>
      ))}
      {reserved.length > 0 && short && (
        <Button size="small" onClick={() => change({ into_holds: true })}>
          Plan on held film as well
        </Button>
      )}
      {job.into_holds && (
        <Row>
          <Typography>
            This job is planned on film that may be held for others; cutting it asks once more.
          </Typography>
          <Button size="small" onClick={() => change({ into_holds: false })}>
            Leave held film alone
          </Button>
        </Row>
      )}
    </Box>
  );
}

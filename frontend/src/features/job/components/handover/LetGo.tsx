import {
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import type { Job, JobWindow } from "../../../../api/client";
import { ErrorNote } from "../../../../shared";
import { useLetGo } from "../../handover";

/** A lead delivers the car without what is not made: which windows, and why each. */
export function LetGo({
  job,
  windows,
  onClose,
}: {
  job: Job;
  windows: readonly JobWindow[];
  onClose: () => void;
}) {
  const letGo = useLetGo(job.id);
  const [reasons, setReasons] = useState<Readonly<Record<string, string>>>(
    windows.length === 1 ? { [windows[0]?.id ?? ""]: "" } : {},
  );
  const chosen = windows.filter((window) => window.id in reasons);
  const last = chosen.at(-1)?.id;
  const pick = (id: string, on: boolean) =>
    setReasons((before) =>
      on
        ? // Most often it is one reason for all of them.
          { ...before, [id]: last === undefined ? "" : (before[last] ?? "") }
        : Object.fromEntries(Object.entries(before).filter(([other]) => other !== id)),
    );
  const ready = chosen.length > 0 && chosen.every((window) => (reasons[window.id] ?? "").trim() !== "");
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="let-go-title">
      <DialogTitle id="let-go-title">Let the car go without …</DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 1 }}>
          These windows leave the order. Film that was cut for them is booked as waste. If a quote was
          offered, its next version says so; the customer accepts it with the car.
        </Typography>
        {windows.map((window) => (
          <Box key={window.id} sx={{ mb: 1 }}>
            <FormControlLabel
              control={
                <Checkbox
                  checked={window.id in reasons}
                  onChange={(event) => pick(window.id, event.target.checked)}
                />
              }
              label={window.label}
            />
            {window.id in reasons && (
              <TextField
                fullWidth
                label={`Why ${window.label} is left out`}
                value={reasons[window.id] ?? ""}
                onChange={(event) => setReasons((before) => ({ ...before, [window.id]: event.target.value }))}
                slotProps={{ htmlInput: { maxLength: 400 } }}
              />
            )}
          </Box>
        ))}
        {letGo.error && <ErrorNote error={letGo.error} />}
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Leave it
        </Button>
        <Button
          variant="contained"
          color="secondary"
          disabled={!ready || letGo.pending}
          onClick={() =>
            letGo.write(
              {
                windows: chosen.map((window) => ({
                  window_id: window.id,
                  version: window.version,
                  reason: (reasons[window.id] ?? "").trim(),
                })),
              },
              { onSuccess: onClose },
            )
          }
        >
          Let {chosen.length > 1 ? `these ${String(chosen.length)}` : "it"} go
        </Button>
      </DialogActions>
    </Dialog>
  );
}

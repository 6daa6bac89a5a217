import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import { useNavigate } from "react-router";
import type { Rack } from "../../../api/client";
import { ErrorNote, focusWhenShown, TextLine, useNotify, useSettings } from "../../../shared";
import { useBin } from "../api";

/** What is left is thrown away: booked as waste, with the reason. */
export function BinDialog({ item, onClose }: { item: Rack["stock"][number]; onClose: () => void }) {
  const bin = useBin();
  const notify = useNotify();
  const navigate = useNavigate();
  const { showLength } = useSettings();
  const [reason, setReason] = useState("");
  const send = () =>
    bin.write(
      { id: item.id, version: item.version, reason: reason.trim() },
      {
        onSuccess: () => {
          notify(`${item.label} is booked as waste.`);
          onClose();
          void navigate("/rack");
        },
      },
    );
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs" aria-labelledby="bin-title">
      <DialogTitle id="bin-title">Throw away {item.label}</DialogTitle>
      <DialogContent>
        {bin.error && <ErrorNote error={bin.error} />}
        <Typography sx={{ mb: 2 }}>
          {showLength(item.length_left_mm)} of {showLength(item.width_mm)} are booked as waste, and it is off
          the rack.
        </Typography>
        <TextLine
          label="Why"
          value={reason}
          hint="old, creased, dust on the adhesive …"
          inputRef={focusWhenShown}
          onChange={setReason}
        />
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Keep it
        </Button>
        <Button
          variant="contained"
          color="secondary"
          disabled={reason.trim() === "" || bin.pending}
          onClick={send}
        >
          Book it as waste
        </Button>
      </DialogActions>
    </Dialog>
  );
}

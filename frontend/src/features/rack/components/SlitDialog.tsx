import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import type { Rack } from "../../../api/client";
import { Problem } from "../../../api/unwrap";
import {
  ErrorNote,
  focusWhenShown,
  parseLength,
  TextLine,
  useNotify,
  useSettings,
  withUnit,
} from "../../../shared";
import { useSlit } from "../api";

/** A roll slit along its length: two narrower rolls, as long as what is left. */
export function SlitDialog({ item, onClose }: { item: Rack["stock"][number]; onClose: () => void }) {
  const slit = useSlit();
  const notify = useNotify();
  const { unit, showLength } = useSettings();
  const [text, setText] = useState("");
  const at = parseLength(withUnit(text, unit));
  const fields = slit.error instanceof Problem ? slit.error.fields : {};
  const rest = at.ok ? item.width_mm - at.mm : null;
  const send = () =>
    slit.write(
      { id: item.id, version: item.version, at: withUnit(text, unit) },
      {
        onSuccess: () => {
          notify(`${item.label} is slit into two rolls.`);
          onClose();
        },
      },
    );
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs" aria-labelledby="slit-title">
      <DialogTitle id="slit-title">Slit {item.label}</DialogTitle>
      <DialogContent>
        {slit.error && <ErrorNote error={slit.error} />}
        <Typography sx={{ mb: 2 }}>
          {showLength(item.width_mm)} wide, {showLength(item.length_left_mm)} left on it. Both new rolls keep
          lot, liner side and price by area.
        </Typography>
        <TextLine
          label="Width of the first roll"
          value={text}
          problem={text !== "" && !at.ok ? at.reason : fields["at"]}
          hint={
            rest !== null && rest > 0
              ? `leaves a second one of ${showLength(rest)}`
              : `a bare number is ${unit}`
          }
          inputRef={focusWhenShown}
          onChange={setText}
        />
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Cancel
        </Button>
        <Button variant="contained" color="secondary" disabled={!at.ok || slit.pending} onClick={send}>
          Slit it
        </Button>
      </DialogActions>
    </Dialog>
  );
}

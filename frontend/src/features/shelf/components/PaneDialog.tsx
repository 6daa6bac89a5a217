import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from "@mui/material";
import { useState } from "react";
import { READING_LABELS } from "../../../api/words";
import { Problem } from "../../../api/unwrap";
import { ErrorNote, FieldGrid, TextLine } from "../../../shared";
import { useOnPane, type ShelfPane } from "../api";

interface Props {
  carId: string;
  pane: ShelfPane;
  onClose: () => void;
}

/** A pane's readings and notes; what is changed makes a new version of it. */
export function PaneDialog({ carId, pane, onClose }: Props) {
  const on = useOnPane(carId);
  const { content } = pane;
  const before = Object.fromEntries(
    Object.entries(content.readings ?? {}).map(([key, one]) => [key, one.typed]),
  );
  const [readings, setReadings] = useState<Record<string, string>>(before);
  const [label, setLabel] = useState(content.label);
  const [trim, setTrim] = useState(content.trim ?? "");
  const [why, setWhy] = useState("");
  const fields = on.error instanceof Problem ? on.error.fields : {};
  const changed = Object.fromEntries(
    Object.entries(readings)
      .filter(([key, typed]) => typed.trim() !== before[key])
      .map(([key, typed]) => [key, typed.trim() === "" ? null : typed.trim()]),
  );
  const put = () =>
    on.write(
      {
        id: pane.id,
        act: {
          what: "change",
          body: {
            version: pane.version,
            why: why.trim(),
            ...(label.trim() !== content.label ? { label: label.trim() } : {}),
            ...(trim.trim() !== (content.trim ?? "") ? { trim: trim.trim() } : {}),
            ...(Object.keys(changed).length ? { readings: changed } : {}),
          },
        },
      },
      { onSuccess: onClose },
    );
  const told = Object.keys(fields).some((key) => key.replace("readings.", "") in readings);
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="pane-title">
      <DialogTitle id="pane-title">{content.label}: a new version</DialogTitle>
      <DialogContent>
        {on.error && !told && <ErrorNote error={on.error} />}
        <FieldGrid>
          <TextLine label="Called" value={label} problem={fields["label"]} onChange={setLabel} />
          <TextLine label="Trim notes" value={trim} problem={fields["trim"]} onChange={setTrim} />
          {Object.entries(readings).map(([key, typed]) => (
            <TextLine
              key={key}
              label={(READING_LABELS as Record<string, string>)[key] ?? key}
              value={typed}
              problem={fields[`readings.${key}`] ?? fields[key]}
              onChange={(text) => setReadings({ ...readings, [key]: text })}
            />
          ))}
          <TextLine label="Why" value={why} hint="what the next person should know" onChange={setWhy} />
        </FieldGrid>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it</Button>
        <Button
          variant="contained"
          color="secondary"
          disabled={on.pending || label.trim() === ""}
          onClick={put}
        >
          Keep as a new version
        </Button>
      </DialogActions>
    </Dialog>
  );
}

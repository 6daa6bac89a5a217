import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Choice, Switch, TextLine, Tick } from "..";

type Told = Omit<Schemas["FittedIn"], "version">;

const WORD = { right: "right", short: "short", long: "long" } as const;

/** The edges of a figure of so many corners, as they are called. */
function edgesOf(corners: number): Record<string, string> {
  if (corners === 3) return { bottom: "bottom", right: "right", left: "left" };
  if (corners < 5) return { bottom: "bottom", right: "right", top: "top", left: "left" };
  const sides = Array.from({ length: corners }, (_, i) => [i + 1, ((i + 1) % corners) + 1] as const);
  return Object.fromEntries(sides.map(([a, b]) => [`side_${a}_${b}`, `corner ${a} to ${b}`]));
}

/** How a piece that was cut by a record fitted; what was off corrects the next cut. */
export function FittedDialog({
  label,
  corners,
  onTold,
  onClose,
}: {
  label: string;
  /** How many corners of it are read; none of a drawn outline, which is not corrected by itself. */
  corners: number;
  onTold: (told: Told) => void;
  onClose: () => void;
}) {
  const [word, setWord] = useState<Told["word"]>("right");
  const [edge, setEdge] = useState(Object.keys(edgesOf(corners))[0] ?? "");
  const [by, setBy] = useState("");
  const [note, setNote] = useState("");
  const [correct, setCorrect] = useState(true);
  const off = word !== "right";
  const corrects = off && correct && corners > 0;
  const told = () =>
    onTold({
      word,
      edge: off ? edge : "",
      by: off ? by.trim() : "",
      note: note.trim(),
      correct: corrects,
    });
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs" aria-labelledby="fitted-title">
      <DialogTitle id="fitted-title">{label}: how did it fit?</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 1.5 }}>
        <Switch label="How it fitted" value={word} options={WORD} onChange={setWord} />
        {off && (
          <>
            <Choice label="At which edge" value={edge} options={edgesOf(corners)} onChange={setEdge} />
            <TextLine label="By how much" value={by} hint="as on a tape: 1/4" onChange={setBy} />
            {corners > 0 && <Tick label="The next cut goes by it" value={correct} onChange={setCorrect} />}
          </>
        )}
        <TextLine label="Note" value={note} onChange={setNote} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it</Button>
        <Button variant="contained" color="secondary" disabled={corrects && by.trim() === ""} onClick={told}>
          Keep
        </Button>
      </DialogActions>
    </Dialog>
  );
}

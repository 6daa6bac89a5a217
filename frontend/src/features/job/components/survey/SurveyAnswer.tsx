import { Alert, Box, Typography } from "@mui/material";
import type { JobWindow } from "../../../../api/client";
import { Answer, showLength, useSettings } from "../../../../shared";

/** The pane's size, or what is wrong with its readings, or how many are to go. */
export function SurveyAnswer({ window }: { window: JobWindow }) {
  const { unit } = useSettings();
  const { pane } = window;
  if (pane.problem)
    return (
      <Answer tone="bad" why={pane.problem}>
        No pane has these readings
      </Answer>
    );
  if (pane.fit?.culprit)
    return (
      <Answer
        tone="bad"
        why={`${pane.fit.culprit.sentence}: the other readings agree without it. Read it again.`}
      >
        Wrong reading: {pane.fit.culprit.label}
      </Answer>
    );
  if (pane.fit?.alarm)
    return (
      <Answer
        tone="bad"
        why="A reading may be off: no pane has exactly these. See below which one, likeliest first."
      >
        Readings do not close
      </Answer>
    );
  if (pane.ring.length === 0 || pane.missing.length > 0) {
    const names = pane.missing.map((missing) => missing.label).join(", ");
    return (
      <Answer why={`Still to read: ${names}.`}>
        {pane.missing.length} {pane.missing.length === 1 ? "reading" : "readings"} to go
      </Answer>
    );
  }
  const size = `${showLength(pane.width_mm ?? 0, unit)} × ${showLength(pane.height_mm ?? 0, unit)}`;
  if (!pane.measured)
    return (
      <Answer why="Greatest width and height: enough for the law and for a hand-cut blank. The outline is not measured and drawn dashed.">
        {size}
      </Answer>
    );
  const closes =
    pane.fit && pane.fit.redundancy > 0
      ? "The readings close."
      : "Three sides leave nothing over to check them with.";
  return (
    <>
      <Answer tone="good" why={closes}>
        {size}
      </Answer>
      <Spread window={window} />
    </>
  );
}

/** What would close the figure, and the one further reading that tells. */
export function Misclosure({ window }: { window: JobWindow }) {
  const { fit } = window.pane;
  if (!fit?.alarm) return null;
  return (
    <Alert
      severity="warning"
      icon={false}
      sx={{ mt: 2, bgcolor: "background.paper", color: "text.primary", border: 2, borderColor: "error.main" }}
    >
      <Typography sx={{ fontWeight: 700 }}>
        Each of these changes alone would close it, likeliest first:
      </Typography>
      <Box component="ol" sx={{ my: 0.5, pl: 3 }}>
        {fit.changes.slice(0, 5).map((change) => (
          <li key={change.key}>{change.sentence}</li>
        ))}
      </Box>
      <Spread window={window} />
      {fit.ask_for && (
        <Typography sx={{ fontWeight: 700 }}>Read {fit.ask_for.label} as well: it tells which.</Typography>
      )}
    </Alert>
  );
}

/** The figures behind “close”, one touch away. */
function Spread({ window }: { window: JobWindow }) {
  const { fit } = window.pane;
  if (!fit || fit.redundancy === 0) return null;
  return (
    <Box component="details" sx={{ mb: 1 }}>
      <Box component="summary" sx={{ cursor: "pointer" }}>
        How well
      </Box>
      <Typography variant="body2">
        They miss a drawable figure by {fit.misclosure_sigma.toFixed(1)} times the spread of one tape reading;{" "}
        {fit.alarm_sigma.toFixed(0)} times is taken for a slip.
      </Typography>
    </Box>
  );
}

import { Box, Typography } from "@mui/material";
import type { JobWindow } from "../../../../api/client";
import { WORDS } from "../../../../api/words";
import { Answer, showLength, useSettings } from "../../../../shared";
import { readingLabel } from "../../logic/windows";
import { Spread } from "./Closing";

/** The pane's size, or what is wrong with its readings, or how many are to go. */
export function SurveyAnswer({ window }: { window: JobWindow }) {
  return (
    <>
      <Answered window={window} />
      {window.settled_by !== "" && (
        <Typography sx={{ mb: 0.5, fontWeight: 700 }}>
          Heat asks for a reading: {readingLabel(window.settled_by).toLowerCase()}, at Curve. It settles
          whether one piece of film will do.
        </Typography>
      )}
      <Serves window={window} />
    </>
  );
}

function Answered({ window }: { window: JobWindow }) {
  const { unit } = useSettings();
  const { pane } = window;
  if (window.no_film)
    return (
      <Answer
        tone="bad"
        why="It is taken out of the cut. If it was mistaken, change the finding under “Look over”."
      >
        {window.no_film}
      </Answer>
    );
  if (pane.problem)
    return (
      <Answer tone="bad" why={pane.problem}>
        No pane has these readings
      </Answer>
    );
  if (pane.fit?.culprit)
    return (
      <Answer tone="bad" why="The other readings agree without it. Read it again.">
        Wrong reading: {pane.fit.culprit.label}
      </Answer>
    );
  if (pane.fit?.closing === "alarm")
    return (
      <Answer
        tone="bad"
        why="A reading is off: no pane has exactly these. Which one stands beside the fields."
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
      <Answer why="Greatest width and height. The outline is not measured and drawn dashed.">{size}</Answer>
    );
  if (pane.fit?.softened && !window.readings_kept)
    return (
      <Answer
        tone="bad"
        why="Unless crowns that nobody has read explain it: read them at Curve. More stands beside the fields."
      >
        Readings hardly close
      </Answer>
    );
  if (pane.fit?.closing === "amber")
    return (
      <Answer tone="open" why="One reading may be off. Which one stands beside the fields.">
        {size}, nearly closes
      </Answer>
    );
  return (
    <Answer tone="good" why={closes(window)}>
      {size}
    </Answer>
  );
}

function closes(window: JobWindow): string {
  const { fit } = window.pane;
  if (!fit) return "The outline came from a drawing or from the shelf.";
  return fit.redundancy > 0 ? "The readings close." : "Three sides leave nothing over to check them with.";
}

/** What a purpose still needs: named at the level that is being read, counted at the others. */
function needs(missing: readonly { label: string }[], here: boolean): string {
  if (missing.length === 0) return "";
  if (!here) return `: ${missing.length} to read`;
  return `: read ${missing.map((one) => one.label.toLowerCase()).join(", ")}`;
}

/** What the pane is good for as it is known, and what to read for the rest. */
function Serves({ window }: { window: JobWindow }) {
  const serves = window.pane.serves;
  return (
    <Box
      role="group"
      aria-label="Good for"
      sx={{ display: "flex", flexWrap: "wrap", columnGap: 2, m: 0, mb: 0.5 }}
    >
      {serves.map((one) => (
        <Typography key={one.level} component="div" variant="body2" data-serves={one.level}>
          <b>
            {WORDS.Level[one.level]} {one.missing.length === 0 ? "✓" : ""}
          </b>{" "}
          {one.words}
          {needs(one.missing, window.level === one.level)}
        </Typography>
      ))}
      {window.pane.fit?.closing === "closes" && <Spread fit={window.pane.fit} />}
    </Box>
  );
}

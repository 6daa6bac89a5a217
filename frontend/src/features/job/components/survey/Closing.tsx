import { Box, Button, Typography } from "@mui/material";
import type { JobWindow, Schemas } from "../../../../api/client";
import { Row, showLength, useSettings, type LengthUnit } from "../../../../shared";
import type { ChangeWindow } from "./types";

/** What may be off where readings do not close: beside the fields, so that it is read where it is mended. */
export function Closing({ window, change }: { window: JobWindow; change: ChangeWindow }) {
  const { fit } = window.pane;
  const { unit } = useSettings();
  if (!fit || fit.closing === "closes") return null;
  const bad = fit.closing === "alarm";
  return (
    <Box
      role="status"
      data-closing={fit.closing}
      sx={{
        border: 3,
        borderColor: bad ? "error.main" : "secondary.main",
        bgcolor: "background.paper",
        p: 1.25,
        my: 1,
      }}
    >
      <Typography sx={{ fontWeight: 700 }}>{headline(fit, unit)}</Typography>
      {fit.swap && <Typography sx={{ fontWeight: 700 }}>{fit.swap}</Typography>}
      {fit.inward && <Typography>{fit.inward} Tap such a corner under “Corners”.</Typography>}
      {fit.read_crowns && (
        <Typography>
          Nobody has read the crowns; what the class lets expect stands for them. Read the crowns, at Curve.
        </Typography>
      )}
      {!fit.culprit && fit.changes.length > 0 && (
        <>
          <Typography variant="body2">Each of these alone would close it, likeliest first:</Typography>
          <Box component="ol" sx={{ my: 0.25, pl: 3, fontSize: "0.95rem" }}>
            {fit.changes.slice(0, 4).map((one) => (
              <li key={one.key}>{one.sentence}</li>
            ))}
          </Box>
        </>
      )}
      {fit.ask_for && bad && (
        <Typography sx={{ fontWeight: 700 }}>Read {fit.ask_for.label} as well: it tells which.</Typography>
      )}
      <Row>
        {window.readings_kept ? (
          <Typography sx={{ fontWeight: 700 }}>
            Kept as read{bad ? "; the knife stays held until it closes" : ""}.
          </Typography>
        ) : (
          <Button size="small" onClick={() => change({ readings_kept: true })}>
            Keep it as read
          </Button>
        )}
      </Row>
      <Spread fit={fit} />
    </Box>
  );
}

function headline(fit: Schemas["FitOut"], unit: LengthUnit): string {
  const [first] = fit.changes;
  if (fit.culprit) return `Wrong reading: ${fit.culprit.sentence}. The others agree without it.`;
  if (fit.closing === "alarm") return "These readings do not close: one of them is off.";
  if (fit.softened) return "These readings do not close, unless crowns that nobody has read explain it.";
  if (fit.read_crowns || !first) return "These readings nearly close.";
  return `One reading may be off by about ${showLength(Math.abs(first.change_mm), unit)}; read the ${first.label} again.`;
}

/** The figures behind it, one touch away. */
export function Spread({ fit }: { fit: Schemas["FitOut"] }) {
  const { unit } = useSettings();
  if (fit.redundancy === 0) return null;
  return (
    <Box component="details">
      <Box component="summary" sx={{ cursor: "pointer", minHeight: 24 }}>
        How well
      </Box>
      <Typography variant="body2">
        They miss a drawable figure by {fit.misclosure_sigma.toFixed(1)} times the spread of one tape reading;
        from {fit.amber_sigma.toFixed(1)} times one is worth repeating, {fit.alarm_sigma.toFixed(0)} times is
        taken for a slip. A corner may be off by ± {showLength(fit.spread_mm, unit)}
        {fit.unseen_mm > 0.5
          ? `, and by ± ${showLength(fit.unseen_mm, unit)} that no tape shows, if the foot is not level or the widest circle lies off the middle`
          : ""}
        .
      </Typography>
    </Box>
  );
}

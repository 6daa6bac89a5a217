import { Box, ToggleButton, ToggleButtonGroup, Typography, useTheme } from "@mui/material";
import type { JobWindow } from "../../../../api/client";
import { WORDS } from "../../../../api/words";

type Curve = JobWindow["curve"];

/** Lines across and up a pane of each class, as light on the glass shows them: across, then up. */
const BENDS: Record<Curve, readonly [number, number]> = {
  flat: [0, 0],
  one_way: [0, 7],
  both_ways: [5, 5],
  strong: [12, 11],
};

/** How the pane is bent, told by pictures: four classes, each with its own crowns to expect. */
export function CurveClasses({
  value,
  disabled,
  onChange,
}: {
  value: Curve;
  disabled: boolean;
  onChange: (curve: Curve) => void;
}) {
  return (
    <ToggleButtonGroup
      exclusive
      value={value}
      disabled={disabled}
      aria-label="Curve"
      onChange={(_, chosen: Curve | null) => {
        if (chosen) onChange(chosen);
      }}
      sx={{ display: "grid", gridTemplateColumns: "repeat(4, minmax(0, 1fr))", mt: 1 }}
    >
      {(Object.keys(BENDS) as Curve[]).map((curve) => (
        <ToggleButton
          key={curve}
          value={curve}
          sx={{ flexDirection: "column", px: 0.5, py: 0.5, fontSize: "0.88rem", lineHeight: 1.1 }}
        >
          <Picture bends={BENDS[curve]} />
          {WORDS.Curve[curve]}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}

function Picture({ bends: [across, up] }: { bends: readonly [number, number] }) {
  return (
    <svg width="72" height="44" viewBox="0 0 72 44" aria-hidden="true" style={{ maxWidth: "100%" }}>
      {[8, 22, 36].map((y) => (
        <path key={y} d={`M6 ${y} Q36 ${y + across * 2 - across} 66 ${y}`} {...LINE} />
      ))}
      {[6, 36, 66].map((x) => (
        <path key={x} d={`M${x} 8 Q${x + up} 22 ${x} 36`} {...LINE} />
      ))}
    </svg>
  );
}

const LINE = { fill: "none", stroke: "currentColor", strokeWidth: 1.8 } as const;

/** How the straightedge lies on the glass and where its gap is read. */
export function StraightedgeDrawing({
  atEnds,
  way,
  lit,
}: {
  atEnds: boolean;
  way: "across" | "up";
  lit: boolean;
}) {
  const { inks } = useTheme();
  const mark = lit ? inks.sun : inks.ink;
  return (
    <Box component="figure" sx={{ m: 0, bgcolor: "background.paper", border: 1, borderColor: "divider" }}>
      <svg
        viewBox="0 0 320 84"
        role="img"
        aria-label={
          atEnds
            ? "Straightedge touching the middle of the glass from outside, a gap at both ends"
            : "Straightedge across the hollow side, a gap in the middle"
        }
        style={{ width: "100%", display: "block" }}
      >
        {atEnds ? (
          <>
            <path d="M30 62 Q160 8 290 62" fill="none" stroke={inks.ink} strokeWidth="4" />
            <rect x="24" y="27" width="272" height="7" fill={inks.soft} />
            <path d="M38 34 V58 M282 34 V58" stroke={mark} strokeWidth="3" />
            <path d="M38 74 H282 M38 69 v10 M282 69 v10" stroke={mark} strokeWidth="2" fill="none" />
          </>
        ) : (
          <>
            <path d="M30 22 Q160 76 290 22" fill="none" stroke={inks.ink} strokeWidth="4" />
            <rect x="24" y="13" width="272" height="7" fill={inks.soft} />
            <path d="M160 20 V48" stroke={mark} strokeWidth="3" />
            <path d="M30 72 H290 M30 67 v10 M290 67 v10" stroke={mark} strokeWidth="2" fill="none" />
          </>
        )}
      </svg>
      <Typography component="figcaption" variant="body2" sx={{ textAlign: "center", pb: 0.5 }}>
        {way === "across" ? "Laid across at mid-height" : "Laid up and down at mid-width"}; the chord is the
        distance between the points read
      </Typography>
    </Box>
  );
}

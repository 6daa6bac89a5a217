import { Box, Typography, useTheme } from "@mui/material";
import type { JobWindow } from "../../../../api/client";
import { PaneShape } from "../../../../shared";
import { concerned } from "../../logic/bay";

const WIDTH = 460;
const HEIGHT = 190;
const PAD = 12;

const WORDS: Record<string, string> = {
  top: "top edge",
  foot: "foot",
  left: "left side",
  right: "right side",
  sides: "both sides",
  corners: "corners",
  middle: "middle",
  border: "border, all round",
  all: "whole pane",
  wiper: "spindle",
};

/** This pane to scale, with the part lit that the step is about. */
export function PaneAt({ window, at }: { window: JobWindow; at: string }) {
  const { inks } = useTheme();
  const ring = window.pane.ring;
  const width = window.pane.width_mm ?? 0;
  const height = window.pane.height_mm ?? 0;
  if (ring.length === 0 || width <= 0 || height <= 0) return null;
  const scale = Math.min((WIDTH - 2 * PAD) / width, (HEIGHT - 2 * PAD) / height);
  const left = (WIDTH - width * scale) / 2 - Math.min(...ring.map(([x = 0]) => x)) * scale;
  const base = HEIGHT - PAD + Math.min(...ring.map(([, y = 0]) => y)) * scale;
  const place = ([x = 0, y = 0]: readonly number[]) => ({ x: left + x * scale, y: base - y * scale });
  const corners = at === "corners" || at === "wiper" ? window.pane.corners : [];
  const middle = place([
    ring.reduce((sum, [x = 0]) => sum + x, 0) / ring.length,
    ring.reduce((sum, [, y = 0]) => sum + y, 0) / ring.length,
  ]);
  return (
    <Box component="figure" sx={{ m: 0, minWidth: 0 }}>
      <svg
        viewBox={`0 0 ${String(WIDTH)} ${String(HEIGHT)}`}
        style={{ width: "100%", maxHeight: "max(170px, 24vh)", display: "block" }}
        role="img"
        aria-label={`${window.label}, seen from outside${WORDS[at] ? `: ${WORDS[at]}` : ""}`}
      >
        <PaneShape
          ring={ring}
          measured={window.pane.measured}
          scale={scale}
          left={left}
          base={base}
          fill={inks.sheet}
          stroke={inks.ink}
          strokeWidth={2}
        />
        {concerned(ring, at).map(({ from, to }, i) => {
          const a = place(from);
          const b = place(to);
          return (
            <line
              key={i}
              x1={a.x}
              y1={a.y}
              x2={b.x}
              y2={b.y}
              stroke={inks.sun}
              strokeWidth={9}
              strokeLinecap="round"
            />
          );
        })}
        {corners.map((corner, i) => {
          const { x, y } = place(corner);
          return <circle key={i} cx={x} cy={y} r={13} fill="none" stroke={inks.sun} strokeWidth={6} />;
        })}
        {at === "middle" && (
          <path
            d={`M${String(left)} ${String(middle.y)}H${String(left + width * scale)}M${String(middle.x)} ${String(PAD)}V${String(HEIGHT - PAD)}`}
            stroke={inks.sun}
            strokeWidth={6}
            strokeDasharray="18 10"
          />
        )}
      </svg>
      <Typography component="figcaption" variant="caption" color="text.secondary">
        {WORDS[at] ? `${WORDS[at]}, ` : ""}seen from outside
      </Typography>
    </Box>
  );
}

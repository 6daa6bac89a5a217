import { Box, Typography, useTheme } from "@mui/material";
import { useRef } from "react";

/** Points of one stroke, 0 to 1 across and down. */
export type Stroke = number[][];

const MOST_POINTS = 800;
const WIDTH = 400;
const HEIGHT = 120;

/** A box to sign in with a finger or a mouse. */
export function SignatureBox({
  strokes,
  onChange,
}: {
  strokes: readonly Stroke[];
  onChange: (strokes: Stroke[]) => void;
}) {
  const { inks } = useTheme();
  const drawing = useRef(false);
  const at = (event: React.PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const share = (value: number) => Math.round(Math.min(Math.max(value, 0), 1) * 1000) / 1000;
    return [share((event.clientX - box.left) / box.width), share((event.clientY - box.top) / box.height)];
  };
  return (
    <Box sx={{ border: 1, borderColor: "text.primary", bgcolor: "background.paper", position: "relative" }}>
      <svg
        role="img"
        aria-label="Signature"
        viewBox={`0 0 ${String(WIDTH)} ${String(HEIGHT)}`}
        style={{ width: "100%", height: HEIGHT, display: "block", touchAction: "none", cursor: "crosshair" }}
        preserveAspectRatio="none"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          drawing.current = true;
          onChange([...strokes, [at(event)]]);
        }}
        onPointerMove={(event) => {
          if (!drawing.current) return;
          const last = strokes[strokes.length - 1] ?? [];
          if (last.length < MOST_POINTS) onChange([...strokes.slice(0, -1), [...last, at(event)]]);
        }}
        onPointerUp={() => {
          drawing.current = false;
        }}
      >
        {strokes.map((stroke, i) => (
          <polyline
            key={i}
            points={stroke.map(([x = 0, y = 0]) => `${String(x * WIDTH)},${String(y * HEIGHT)}`).join(" ")}
            fill="none"
            stroke={inks.ink}
            strokeWidth={2}
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </svg>
      {strokes.length === 0 && (
        <Typography
          color="text.secondary"
          sx={{ position: "absolute", left: 12, bottom: 8, pointerEvents: "none" }}
        >
          Sign here
        </Typography>
      )}
    </Box>
  );
}

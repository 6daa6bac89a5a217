import { useTheme } from "@mui/material";
import type { ShrinkView } from "../../heat";
import { spanAt } from "../../logic/heat";

export function Strip({
  strip,
  d,
  at,
  size,
}: {
  strip: ShrinkView["strips"][number];
  d: string;
  at: At;
  size: number;
}) {
  const { inks } = useTheme();
  const place = at(...middleOf(strip.ring));
  return (
    <>
      <path d={d} fill="none" stroke={inks.shade} strokeWidth={3} />
      <text {...place} fontSize={size} fontWeight={700} textAnchor="middle" fill={inks.ink}>
        Strip {strip.number}: {strip.words}
      </text>
    </>
  );
}

function middleOf(ring: number[][]): [number, number] {
  const [left, low] = [Math.min(...ring.map((p) => p[0] ?? 0)), Math.min(...ring.map((p) => p[1] ?? 0))];
  const [right, high] = [Math.max(...ring.map((p) => p[0] ?? 0)), Math.max(...ring.map((p) => p[1] ?? 0))];
  return [(left + right) / 2, (low + high) / 2];
}

export type At = (x: number, y: number) => { x: number; y: number };

/** A tent of loose film seen from above: its ridge, and the two folds that it runs out in. */
export function Finger({ line, at, ink }: { line: number[][]; at: At; ink: string }) {
  const [start = [0, 0], end = [0, 0]] = line;
  const a = at(start[0] ?? 0, start[1] ?? 0);
  const b = at(end[0] ?? 0, end[1] ?? 0);
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const long = Math.hypot(dx, dy) || 1;
  const side = { x: (-dy / long) * 9, y: (dx / long) * 9 };
  return (
    <g stroke={ink} fill={ink}>
      <path
        d={`M${a.x} ${a.y}L${b.x + side.x} ${b.y + side.y}L${b.x - side.x} ${b.y - side.y}Z`}
        fillOpacity={0.18}
        strokeWidth={1.2}
      />
      <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} strokeWidth={2.6} />
    </g>
  );
}

export function BiteNumber({
  bite,
  size,
  at,
  ink,
  paper,
}: {
  bite: ShrinkView["bites"][number];
  size: number;
  at: At;
  ink: string;
  paper: string;
}) {
  const place = at(...middleOf(bite.ring));
  return (
    <>
      <circle cx={place.x} cy={place.y} r={size * 0.8} fill={paper} stroke={ink} strokeWidth={2} />
      <text
        {...place}
        fontSize={size}
        fontWeight={700}
        textAnchor="middle"
        dominantBaseline="central"
        fill={ink}
      >
        {bite.number}
      </text>
    </>
  );
}

/** The three lines that hold the film, of which the cross line is drawn where it can be moved. */
export function LetterH({
  view,
  drawn,
  ink,
}: {
  view: ShrinkView;
  drawn: (points: number[][]) => string;
  ink: string;
}) {
  if (view.zones.every((zone) => zone.fingers === 0)) return null;
  const axis = view.anchor.turned ? 1 : 0;
  return view.side_lines_mm.map((place) => {
    const span = spanAt(view.outline, axis, place);
    if (!span) return null;
    const points = span.map((other) => (axis === 0 ? [place, other] : [other, place]));
    return (
      <path key={place} d={drawn(points)} fill="none" stroke={ink} strokeWidth={5} strokeOpacity={0.75} />
    );
  });
}

import { useTheme } from "@mui/material";
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { showLength, useSettings } from "../../../../shared";
import type { ShrinkView } from "../../heat";
import { ruled, spanAt } from "../../logic/heat";

const INCH = 25.4;
const LEAN = 0.01;

/** The cross line: dragged up and down, leaned at its ends; the same by arrow keys. */
export function CrossLine({
  view,
  box,
  scale,
  words,
  onLine,
}: {
  view: ShrinkView;
  box: { x: number; y: number; width: number; height: number };
  scale: number;
  words: number;
  onLine: (height: number, slope: number) => void;
}) {
  const { inks } = useTheme();
  const { unit } = useSettings();
  const { turned, height_mm, slope, most_mm } = view.anchor;
  const grip = useRef<{ start: number; height: number; slope: number; lean: number | null } | null>(null);
  // While the hand holds the line it is where the hand is; the map follows as soon as it is worked out.
  const [held, setHeld] = useState<{ height: number; slope: number } | null>(null);
  const off = held ? held.height - height_mm : 0;
  const lean = held ? held.slope - slope : 0;
  const span = spanAt(view.outline, turned ? 0 : 1, 0) ?? [-100, 100];
  const [first, last] = [span[0] - 16, span[1] + 16];
  const place = (along: number) => {
    const by = off + lean * along;
    const [x, y] = turned ? [by, along] : [along, by];
    return { x: x - box.x, y: box.y + box.height - y };
  };
  const grab = (event: PointerEvent<SVGElement>, end: number | null) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    grip.current = { start: turned ? event.clientX : event.clientY, height: height_mm, slope, lean: end };
    setHeld({ height: height_mm, slope });
  };
  const move = (event: PointerEvent<SVGElement>) => {
    const hold = grip.current;
    if (!hold) return;
    const pixels = (turned ? event.clientX : event.clientY) - hold.start;
    const by = (turned ? pixels : -pixels) / scale;
    const next =
      hold.lean === null
        ? { height: ruled(hold.height + by, most_mm), slope: hold.slope }
        : { height: hold.height, slope: clamp(hold.slope + by / hold.lean, 0.5) };
    setHeld(next);
    onLine(next.height, next.slope);
  };
  const drop = () => {
    if (!grip.current) return;
    grip.current = null;
    setHeld(null);
  };
  const press = (event: KeyboardEvent<SVGElement>) => {
    const step = event.shiftKey ? INCH : INCH / 8;
    const more = turned ? "ArrowRight" : "ArrowUp";
    const less = turned ? "ArrowLeft" : "ArrowDown";
    const moves: Record<string, [number, number]> = {
      [more]: [step, 0],
      [less]: [-step, 0],
      PageUp: [INCH, 0],
      PageDown: [-INCH, 0],
      [turned ? "ArrowUp" : "ArrowRight"]: [0, LEAN],
      [turned ? "ArrowDown" : "ArrowLeft"]: [0, -LEAN],
    };
    const by = moves[event.key];
    if (!by) return;
    event.preventDefault();
    onLine(ruled(height_mm + by[0], most_mm), clamp(slope + by[1], 0.5));
  };
  const [a, b] = [place(first), place(last)];
  const height = held?.height ?? height_mm;
  const told = `${showLength(height, unit)} ${turned ? "from the left edge" : "above the foot"}`;
  return (
    <g>
      <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke={inks.sun} strokeWidth={6} />
      <g
        role="slider"
        tabIndex={0}
        aria-label={turned ? "Line of the film, from the left edge" : "Cross line, height above the foot"}
        aria-orientation={turned ? "horizontal" : "vertical"}
        aria-valuemin={0}
        aria-valuemax={Math.round(most_mm)}
        aria-valuenow={Math.round(height)}
        aria-valuetext={told}
        onKeyDown={press}
        onPointerDown={(event) => grab(event, null)}
        onPointerMove={move}
        onPointerUp={drop}
        onPointerCancel={drop}
        style={{ cursor: turned ? "ew-resize" : "ns-resize" }}
      >
        <line
          x1={a.x}
          y1={a.y}
          x2={b.x}
          y2={b.y}
          stroke="transparent"
          strokeWidth={Math.max(48 / scale, 30)}
        />
        <text
          x={place(0).x + (turned ? words : 0)}
          y={place(0).y - (turned ? 0 : words * 0.7)}
          fontSize={words}
          fontWeight={700}
          textAnchor={turned ? "start" : "middle"}
          fill={inks.ink}
          stroke={inks.sheet}
          strokeWidth={words / 2}
          paintOrder="stroke"
        >
          {told}
        </text>
      </g>
      {[first, last].map((end) => (
        <circle
          key={end > 0 ? "end" : "start"}
          cx={place(end).x}
          cy={place(end).y}
          r={Math.max(12 / scale, 9)}
          fill={inks.sun}
          stroke={inks.sheet}
          strokeWidth={3}
          onPointerDown={(event) => grab(event, end)}
          onPointerMove={move}
          onPointerUp={drop}
          onPointerCancel={drop}
          style={{ cursor: turned ? "ew-resize" : "ns-resize" }}
        />
      ))}
    </g>
  );
}

function clamp(value: number, most: number): number {
  return Math.round(Math.min(most, Math.max(-most, value)) * 1000) / 1000;
}

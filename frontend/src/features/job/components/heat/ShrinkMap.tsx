import { Box, useTheme } from "@mui/material";
import { useId, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { showLength, textIn, useHeightBelow, useRoom, useSettings } from "../../../../shared";
import type { ShrinkView } from "../../heat";
import { boxOf, labelPlaces, path, ruled, spanAt } from "../../logic/heat";

export type Showing = "map" | "order" | "pattern" | "strips";

const INCH = 25.4;
const LEAN = 0.01;

/** The pane to scale on its flat film: what must go in percent, fingers, the H, and the line that is dragged. */
export function ShrinkMap({
  view,
  label,
  showing,
  above,
  lit,
  quarter,
  onLine,
}: {
  view: ShrinkView;
  label: string;
  showing: Showing;
  /** Height of what stands over the drawing. */
  above: number;
  /** The bite that is next, if one is. */
  lit?: number | undefined;
  /** The quarter of the film that alone is shown, large. */
  quarter?: string | undefined;
  /** The line is tried at another height or lean. */
  onLine?: (height: number, slope: number) => void;
}) {
  const { inks } = useTheme();
  const [room, shown] = useRoom<HTMLDivElement>(760);
  const high = useHeightBelow(above, 230, 560);
  const hatch = useId();
  const alone = view.bites.filter((bite) => bite.quarter === quarter).map((bite) => bite.ring);
  const box = alone.length
    ? boxOf(alone, 40)
    : boxOf([view.outline, view.cut_line, ...(showing === "pattern" ? [view.projected_outline] : [])], 34);
  const scale = Math.min(shown / box.width, high / box.height);
  const text = textIn(box.width, box.width * scale);
  const words = text(15);
  const turned = view.anchor.turned;
  const drawn = (points: number[][], closed = false) => path(points, box, closed);
  const at = (x: number, y: number) => ({ x: x - box.x, y: box.y + box.height - y });
  const most = Math.max(...view.contours.map((one) => Math.abs(one.percent)), 1e-9);
  return (
    <Box
      ref={room}
      sx={{ width: "100%", "& .shrink-map :is(path, line, circle)": { vectorEffect: "non-scaling-stroke" } }}
    >
      <svg
        viewBox={`0 0 ${box.width} ${box.height}`}
        width={box.width * scale}
        height={box.height * scale}
        role="group"
        className="shrink-map"
        aria-label={`${label}: ${view.sentence}`}
        style={{ display: "block", margin: "0 auto", touchAction: "none", maxWidth: "100%" }}
      >
        <defs>
          <pattern
            id={hatch}
            width={14}
            height={14}
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <line x1={0} y1={0} x2={0} y2={14} stroke={inks.rule} strokeWidth={2} />
          </pattern>
        </defs>
        <path
          d={drawn(view.cut_line, true)}
          fill={inks.sheet}
          stroke={inks.shade}
          strokeWidth={2.2}
          strokeDasharray="10 6"
        />
        <path
          d={drawn(view.outline, true)}
          fill="none"
          stroke={inks.ink}
          strokeWidth={3}
          strokeDasharray={view.measured ? undefined : "4 6"}
        />
        {showing === "pattern" && (
          <path
            d={drawn(view.projected_outline, true)}
            fill="none"
            stroke={inks.bad}
            strokeWidth={2.4}
            strokeDasharray="3 5"
          />
        )}
        {showing === "strips" &&
          view.strips.map((strip) => (
            <Strip key={strip.number} strip={strip} d={drawn(strip.ring, true)} at={at} size={text(22)} />
          ))}
        {showing === "map" &&
          view.contours.map((contour) =>
            contour.lines.map((line, i) => (
              <path
                key={`${contour.percent} ${i}`}
                d={drawn(line)}
                fill="none"
                stroke={contour.is_limit ? inks.bad : contour.percent < 0 ? inks.good : inks.sun}
                strokeOpacity={contour.is_limit ? 1 : 0.35 + (0.65 * Math.abs(contour.percent)) / most}
                strokeWidth={contour.is_limit ? 6 : 1.5 + (3 * Math.abs(contour.percent)) / most}
              />
            )),
          )}
        {showing === "map" &&
          view.fingers.map((finger, i) => <Finger key={i} line={finger.line} at={at} ink={inks.shade} />)}
        {showing === "order" &&
          view.bites.map((bite) => (
            <g key={bite.number}>
              <path
                d={drawn(bite.ring, true)}
                fill={
                  bite.number === lit
                    ? inks.sun
                    : lit !== undefined && bite.number < lit
                      ? `url(#${hatch})`
                      : "none"
                }
                fillOpacity={bite.number === lit ? 0.35 : 1}
                stroke={inks.soft}
                strokeWidth={1.5}
              />
              <BiteNumber bite={bite} size={text(22)} at={at} ink={inks.ink} paper={inks.paper} />
            </g>
          ))}
        {showing !== "strips" && <LetterH view={view} drawn={drawn} ink={inks.ink} />}
        {showing === "map" &&
          labelPlaces(view.contours, words * 4).map((one) => {
            const place = at(one.at[0] ?? 0, one.at[1] ?? 0);
            return (
              <text
                key={`${place.x} ${place.y}`}
                {...place}
                fontSize={words}
                fontWeight={700}
                textAnchor="middle"
                dominantBaseline="central"
                fill={one.isLimit ? inks.bad : inks.ink}
                stroke={inks.sheet}
                strokeWidth={words / 2}
                paintOrder="stroke"
              >
                {one.isLimit ? `limit ${one.words}` : one.words}
              </text>
            );
          })}
        {onLine && (
          <Line
            key={turned ? "up" : "across"}
            view={view}
            box={box}
            scale={scale}
            words={text(17)}
            onLine={onLine}
          />
        )}
      </svg>
    </Box>
  );
}

function Strip({
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

type At = (x: number, y: number) => { x: number; y: number };

/** A tent of loose film seen from above: its ridge, and the two folds that it runs out in. */
function Finger({ line, at, ink }: { line: number[][]; at: At; ink: string }) {
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

function BiteNumber({
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
function LetterH({
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

/** The cross line: dragged up and down, leaned at its ends; the same by arrow keys. */
function Line({
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

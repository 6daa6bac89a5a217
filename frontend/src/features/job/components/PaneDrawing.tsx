import { Box, useTheme } from "@mui/material";
import type { JobWindow } from "../../../api/client";
import { Fractions, ringPoints, showLength, textIn, useRoom, useSettings } from "../../../shared";

const VIEW = { width: 640, height: 316 };
const MARGIN = { side: 92, top: 58, foot: 42 };

type Point = readonly [number, number];

/** The pane to scale, seen from outside, with what was read on it; the reading asked for is lit. */
export function PaneDrawing({ window, lit }: { window: JobWindow; lit: string | null }) {
  const { inks } = useTheme();
  const { unit } = useSettings();
  const [box, room] = useRoom<HTMLElement>(VIEW.width);
  const text = textIn(VIEW.width, room);
  const { ring, corners, width_mm, height_mm, measured } = window.pane;
  const standIn = ring.length === 0;
  const [w, h] = [width_mm ?? 900, height_mm ?? 450];
  const scale = Math.min((VIEW.width - 2 * MARGIN.side) / w, (VIEW.height - MARGIN.top - MARGIN.foot) / h);
  const left = (VIEW.width - w * scale) / 2;
  const base = MARGIN.top + (VIEW.height - MARGIN.top - MARGIN.foot + h * scale) / 2;
  const at = ([x, y]: Point): Point => [left + x * scale, base - y * scale];
  const label = (key: string) => window.readings[key]?.typed ?? "?";
  const own = window.same_as_id === null;
  const lines = own && window.level === "shape" && !standIn ? readingLines(corners, window.figure) : [];
  const color = (key: string) => (lit === key ? inks.sun : inks.soft);
  const facing =
    window.side === "driver" ? "◀ front of car" : window.side === "passenger" ? "front of car ▶" : "";
  return (
    <Box
      ref={box}
      component="figure"
      sx={{ m: 0, bgcolor: "background.paper", border: 1, borderColor: "divider" }}
    >
      <svg
        viewBox={`0 0 ${String(VIEW.width)} ${String(VIEW.height)}`}
        role="img"
        aria-label={`${window.label}, ${standIn ? "not measured" : `${showLength(w, unit)} wide and ${showLength(h, unit)} high`}, seen from outside`}
        style={{ width: "100%", display: "block" }}
      >
        {standIn ? (
          <rect
            x={left}
            y={base - h * scale}
            width={w * scale}
            height={h * scale}
            fill="none"
            stroke={inks.soft}
            strokeDasharray="2 5"
          />
        ) : (
          <polygon
            points={ringPoints(ring, scale, left, base)}
            fill={window.shade.backdrop}
            fillOpacity={0.28}
            stroke={inks.ink}
            strokeWidth={2.5}
            strokeLinejoin="round"
            strokeDasharray={measured ? undefined : "9 6"}
            data-outline={measured ? "measured" : "size"}
          />
        )}
        {lines.map(({ key, from, to, diagonal }) => {
          const [[x1, y1], [x2, y2]] = [at(from), at(to)];
          return (
            <g key={key}>
              <line
                x1={x1}
                y1={y1}
                x2={x2}
                y2={y2}
                stroke={color(key)}
                strokeWidth={lit === key ? 5 : diagonal ? 1 : 0}
                strokeDasharray={diagonal ? "5 4" : undefined}
              />
              <Label
                size={text}
                at={labelAt(key, [x1, y1], [x2, y2], diagonal)}
                words={label(key)}
                lit={lit === key}
                fill={lit === key ? inks.sun : inks.ink}
                halo={inks.sheet}
              />
            </g>
          );
        })}
        {lines.length === 0 && (
          <>
            <Dimension
              size={text}
              from={[left, base + 26]}
              to={[left + w * scale, base + 26]}
              words={standIn || window.level === "size" ? label("width") : showLength(w, unit)}
              lit={lit === "width"}
              inks={inks}
            />
            <Dimension
              size={text}
              from={[left - 26, base]}
              to={[left - 26, base - h * scale]}
              words={standIn || window.level === "size" ? label("height") : showLength(h, unit)}
              lit={lit === "height"}
              inks={inks}
            />
          </>
        )}
        <text
          x={window.side === "passenger" ? VIEW.width - 12 : 12}
          y={20}
          textAnchor={window.side === "passenger" ? "end" : "start"}
          fontSize={text(14)}
          fill={inks.soft}
          fontWeight="600"
        >
          {facing}
        </text>
        <text x={VIEW.width / 2} y={20} textAnchor="middle" fontSize={text(14)} fill={inks.soft}>
          seen from outside{measured ? "" : standIn ? ", not measured" : ", outline not measured"}
        </text>
      </svg>
    </Box>
  );
}

interface Line {
  key: string;
  from: Point;
  to: Point;
  diagonal: boolean;
}

function readingLines(corners: readonly (readonly number[])[], figure: JobWindow["figure"]): Line[] {
  const [bl, br, c, d] = corners as unknown as [Point, Point, Point, Point];
  const side = (key: string, from: Point, to: Point): Line => ({ key, from, to, diagonal: false });
  if (figure === "three") return [side("bottom", bl, br), side("right", br, c), side("left", c, bl)];
  return [
    side("bottom", bl, br),
    side("right", br, c),
    side("top", c, d),
    side("left", d, bl),
    { key: "diagonal_rising", from: bl, to: c, diagonal: true },
    { key: "diagonal_falling", from: d, to: br, diagonal: true },
  ];
}

/** Side labels stand outside their edge, diagonals' a third of the way along, clear of the crossing. */
function labelAt(key: string, [x1, y1]: Point, [x2, y2]: Point, diagonal: boolean): Point {
  if (diagonal) return [x1 + (x2 - x1) * 0.28, y1 + (y2 - y1) * 0.28];
  const middle: Point = [(x1 + x2) / 2, (y1 + y2) / 2];
  const away: Record<string, Point> = { bottom: [0, 30], top: [0, -26], left: [-44, 0], right: [44, 0] };
  const [dx, dy] = away[key] ?? [0, 0];
  return [middle[0] + dx, middle[1] + dy];
}

function Label({
  at: [x, y],
  words,
  lit,
  fill,
  halo,
  size,
}: {
  at: Point;
  size: (asked: number) => number;
  words: string;
  lit: boolean;
  fill: string;
  halo: string;
}) {
  return (
    <text
      x={x}
      y={y + 6}
      textAnchor="middle"
      fontSize={size(lit ? 24 : 19)}
      fontWeight="700"
      fill={fill}
      stroke={halo}
      strokeWidth="5"
      paintOrder="stroke"
      fontFamily='"Barlow", sans-serif'
    >
      <Fractions text={words} svg />
    </text>
  );
}

function Dimension({
  size,
  from,
  to,
  words,
  lit,
  inks,
}: {
  size: (asked: number) => number;
  from: Point;
  to: Point;
  words: string;
  lit: boolean;
  inks: { sun: string; ink: string; soft: string; sheet: string };
}) {
  const upright = Math.abs(from[0] - to[0]) < 1;
  const [x, y] = [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2];
  const stroke = lit ? inks.sun : inks.soft;
  const tick = upright ? [7, 0] : [0, 7];
  return (
    <g>
      <line x1={from[0]} y1={from[1]} x2={to[0]} y2={to[1]} stroke={stroke} strokeWidth={lit ? 4 : 1.5} />
      {[from, to].map(([px, py]) => (
        <line
          key={`${String(px)} ${String(py)}`}
          x1={px - (tick[0] ?? 0)}
          y1={py - (tick[1] ?? 0)}
          x2={px + (tick[0] ?? 0)}
          y2={py + (tick[1] ?? 0)}
          stroke={stroke}
          strokeWidth={1.5}
        />
      ))}
      <Label
        size={size}
        at={upright ? [x - 4, y] : [x, y + 2]}
        words={words}
        lit={lit}
        fill={lit ? inks.sun : inks.ink}
        halo={inks.sheet}
      />
    </g>
  );
}

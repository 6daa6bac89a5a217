import { Box, useTheme } from "@mui/material";
import type { JobWindow } from "../../../api/client";
import { Fractions, ringPoints, showLength, textIn, useRoom, useSettings } from "../../../shared";

const VIEW = { width: 640, height: 300 };
const MARGIN = { side: 92, top: 46, foot: 44 };

type Point = readonly [number, number];
const BOX = [
  [0, 0],
  [900, 0],
  [900, 450],
  [0, 450],
];

interface Props {
  window: JobWindow;
  /** The reading that is being taken. */
  lit: string | null;
  /** Readings to take again. */
  again?: readonly string[];
}

/** The pane to scale, seen from outside, with what was read on it; the reading asked for is lit. */
export function PaneDrawing({ window, lit, again = [] }: Props) {
  const { inks } = useTheme();
  const { unit } = useSettings();
  const [box, room] = useRoom<HTMLElement>(VIEW.width);
  const text = textIn(VIEW.width, room);
  const { ring, corners, width_mm, height_mm, measured } = window.pane;
  const standIn = ring.length === 0;
  const marked = new Set([...again, ...(lit === null ? [] : [lit])]);
  const lines = drawn(window, marked);
  const sketched = standIn || (!measured && lines.length > 0);
  const spread = sketched && corners.length > 0 ? corners : ring;
  const w = Math.max(...spread.map(([x]) => x ?? 0), sketched ? 0 : (width_mm ?? 0)) || 900;
  const h = Math.max(...spread.map(([, y]) => y ?? 0), sketched ? 0 : (height_mm ?? 0)) || 450;
  const scale = Math.min((VIEW.width - 2 * MARGIN.side) / w, (VIEW.height - MARGIN.top - MARGIN.foot) / h);
  const left = (VIEW.width - w * scale) / 2;
  const base = MARGIN.top + (VIEW.height - MARGIN.top - MARGIN.foot + h * scale) / 2;
  const at = ([x, y]: Point): Point => [left + x * scale, base - y * scale];
  const label = (key: string) => window.readings[key]?.typed ?? "?";
  const middle = at([w / 2, h / 2]);
  const color = (key: string) => (again.includes(key) ? inks.bad : lit === key ? inks.sun : inks.soft);
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
        {sketched ? (
          <polygon
            points={ringPoints(corners.length > 0 ? corners : BOX, scale, left, base)}
            fill="none"
            stroke={inks.soft}
            strokeDasharray="2 5"
            data-outline="none"
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
        {lines.map(({ key, kind, start, end }) => {
          const [from, to] = [at(start as unknown as Point), at(end as unknown as Point)];
          const bold = marked.has(key);
          return (
            <g key={key} data-line={key} data-lit={bold || undefined}>
              {kind === "corner" ? (
                <circle cx={from[0]} cy={from[1]} r={16} fill="none" stroke={color(key)} strokeWidth={4} />
              ) : (
                <line
                  x1={from[0]}
                  y1={from[1]}
                  x2={to[0]}
                  y2={to[1]}
                  stroke={color(key)}
                  strokeWidth={bold ? 5 : kind === "side" ? 0 : 1}
                  strokeDasharray={kind === "side" ? undefined : "5 4"}
                />
              )}
              <Label
                size={text}
                at={labelAt(kind, from, to, middle)}
                words={label(key)}
                lit={bold}
                fill={bold ? color(key) : inks.ink}
                halo={inks.sheet}
              />
            </g>
          );
        })}
        {lines.length > 0 &&
          corners.length > 4 &&
          corners.map((corner, i) => {
            const [x, y] = at(corner as unknown as Point);
            return (
              <text
                key={i}
                x={x + (x < middle[0] ? 14 : -14)}
                y={y + (y < middle[1] ? 18 : -8)}
                textAnchor="middle"
                fontSize={text(15)}
                fill={inks.soft}
              >
                {i + 1}
              </text>
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
        <text x={VIEW.width - 12} y={VIEW.height - 10} textAnchor="end" fontSize={text(14)} fill={inks.soft}>
          seen from outside{measured ? "" : sketched ? ", not measured" : ", outline not measured"}
        </text>
      </svg>
    </Box>
  );
}

/** What is lit: the field that is read, or what should be read again. */
function drawn(window: JobWindow, lit: ReadonlySet<string>): JobWindow["pane"]["lines"] {
  if (window.same_as_id !== null || window.level === "size") return [];
  return window.pane.lines.filter(
    ({ key, kind }) =>
      kind === "side" || kind === "diagonal" || lit.has(key) || (kind === "extra" && window.readings[key]),
  );
}

/** Side labels stand outside their edge, diagonals' a third of the way along, clear of the crossing. */
function labelAt(kind: string, [x1, y1]: Point, [x2, y2]: Point, [mx, my]: Point): Point {
  if (kind === "corner") return [x1 + (x1 < mx ? 30 : -30), y1 + (y1 < my ? 30 : -24)];
  if (kind !== "side") return [x1 + (x2 - x1) * 0.28, y1 + (y2 - y1) * 0.28];
  const [x, y] = [(x1 + x2) / 2, (y1 + y2) / 2];
  const [ax, ay] = [x2 - x1, y2 - y1];
  const long = Math.hypot(ax, ay) || 1;
  // Outward: the pane is walked counter-clockwise, and the screen's y points down.
  return [x - (ay / long) * 42, y + (ax / long) * 28];
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

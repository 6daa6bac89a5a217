import { Box, Typography, useTheme } from "@mui/material";
import type { KeyboardEvent } from "react";
import type { FilmPlan } from "../../api/client";
import { Fractions } from "../components/Fractions";
import { showBare, showLength, type LengthUnit } from "../logic/format";
import { useHeightBelow, useRoom } from "../room";
import { Ruler, RULER } from "./Ruler";

const VIEW_WIDTH = 1180;
const TALLEST = 300;
export const MARGIN = 20;

export type Stock = FilmPlan["stocks"][number];

/** Scale and size of a drawing, as wide and as tall as the screen has room for. */
export function drawn(
  stock: Stock,
  room = VIEW_WIDTH,
  tallest = TALLEST,
): { scale: number; width: number; height: number } {
  const long = drawnLength(stock);
  const scale = Math.min((room - MARGIN - 8) / long, tallest / stock.width_mm);
  return { scale, width: long * scale, height: stock.width_mm * scale };
}

/** A roll is drawn as far as it is pulled, a sheet or offcut as a whole. */
function drawnLength(stock: Stock): number {
  return stock.kind === "roll" ? stock.used_mm : stock.length_mm;
}

export function StockDrawing({
  plan,
  stock,
  lit,
  onPick,
  above,
  unit,
}: {
  plan: FilmPlan;
  stock: Stock;
  lit: string | null;
  onPick: ((id: string) => void) | undefined;
  above: number;
  unit: LengthUnit;
}) {
  const { inks } = useTheme();
  const stockId = stock.id;
  // Drawn in the screen's own pixels, so that text is as large as it says.
  const [box, room] = useRoom<HTMLElement>(VIEW_WIDTH);
  const tallest = useHeightBelow(above, 190, TALLEST);
  const { scale, width, height } = drawn(stock, Math.min(VIEW_WIDTH, room), tallest);
  const pieces = plan.pieces.filter((piece) => piece.stock_id === stockId);
  const rests = plan.leftovers.filter(
    (rest) => rest.stock_id === stockId && rest.x_mm < drawnLength(stock) - 1,
  );
  const up = (y: number, tall: number) => height - (y + tall) * scale;
  return (
    <Box ref={box} component="figure" sx={{ m: 0, mt: 1.5 }}>
      <Typography component="figcaption" sx={{ mb: 0.5 }}>
        <b>{stock.label}</b> · {showLength(stock.width_mm, unit)} wide · <b>{stock.facing}</b>
        {stock.lot ? ` · lot ${stock.lot}` : ""} · from above, machine direction ▶
      </Typography>
      <svg
        viewBox={`-4 -4 ${String(width + MARGIN)} ${String(height + RULER + 8)}`}
        preserveAspectRatio="xMinYMin meet"
        style={{
          width: "100%",
          maxWidth: width + MARGIN,
          display: "block",
          backgroundColor: inks.sheet,
        }}
        role="group"
        aria-label={`${stock.label}: ${pieces.map((piece) => `${piece.mark} ${piece.label}`).join(", ")}`}
      >
        <defs>
          <pattern
            id="waste"
            width="8"
            height="8"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <line x1="0" y1="0" x2="0" y2="8" stroke={inks.rule} strokeWidth="2" />
          </pattern>
        </defs>
        <rect
          x={0}
          y={0}
          width={width}
          height={height}
          fill="url(#waste)"
          stroke={inks.ink}
          strokeWidth={2}
        />
        {rests
          .filter((rest) => rest.usable)
          .map((rest) => {
            const [x, y, w, h] = [
              rest.x_mm * scale,
              up(rest.y_mm, rest.across_mm),
              rest.along_mm * scale,
              rest.across_mm * scale,
            ];
            return (
              <g key={`${String(rest.x_mm)} ${String(rest.y_mm)}`}>
                <rect x={x} y={y} width={w} height={h} fill={inks.paper} stroke={inks.soft} />
                <KeepWords
                  x={x + w / 2}
                  y={y + h / 2}
                  room={w - 12}
                  size={`${showBare(rest.along_mm, unit)} × ${showBare(rest.across_mm, unit)}`}
                />
              </g>
            );
          })}
        {pieces.map((piece) => (
          <PieceDrawing
            key={piece.mark}
            piece={piece}
            scale={scale}
            height={height}
            lit={piece.window_id === lit}
            unit={unit}
            onPick={onPick}
          />
        ))}
        {plan.cuts
          .filter((cut) => cut.stock_id === stockId)
          .map((cut) => {
            const [[startX = 0, startY = 0], [endX = 0, endY = 0]] = [cut.start, cut.end];
            const [x1, y1, x2, y2] = [
              startX * scale,
              height - startY * scale,
              endX * scale,
              height - endY * scale,
            ];
            const [nx, ny] = [x1 + (x2 - x1) * 0.22, y1 + (y2 - y1) * 0.22];
            return (
              <g key={cut.number}>
                <line x1={x1} y1={y1} x2={x2} y2={y2} stroke={inks.sun} strokeWidth={2} />
                <circle cx={nx} cy={ny} r={11} fill={inks.sun} />
                <text
                  x={nx}
                  y={ny + 4.5}
                  textAnchor="middle"
                  fontSize="13"
                  fontWeight="700"
                  fill={inks.onSun}
                >
                  {cut.number}
                </text>
              </g>
            );
          })}
        <Ruler length={drawnLength(stock)} scale={scale} top={height} unit={unit} ink={inks.ink} />
      </svg>
    </Box>
  );
}

interface PieceProps {
  piece: FilmPlan["pieces"][number];
  scale: number;
  height: number;
  lit: boolean;
  unit: LengthUnit;
  onPick: ((windowId: string) => void) | undefined;
}

/** A piece in its place; where its window can be picked, it is a button for mouse and keyboard alike. */
function PieceDrawing({ piece, scale, height, lit, unit, onPick }: PieceProps) {
  const { inks } = useTheme();
  const [w, h] = [piece.along_mm * scale, piece.across_mm * scale];
  const [x, y] = [piece.x_mm * scale, height - piece.y_mm * scale - h];
  const room = Math.min(w / 7, h / 4.2);
  const ring = (points: readonly number[][]) =>
    points
      .map(([px = 0, py = 0]) => `${(px * scale).toFixed(1)},${(height - py * scale).toFixed(1)}`)
      .join(" ");
  const pick = () => onPick?.(piece.window_id);
  const asButton = onPick
    ? {
        role: "button",
        tabIndex: 0,
        "aria-pressed": lit,
        onClick: pick,
        onKeyDown: (event: KeyboardEvent) => {
          if (event.key !== "Enter" && event.key !== " ") return;
          event.preventDefault();
          pick();
        },
      }
    : {};
  return (
    <g
      {...asButton}
      className="piece"
      style={{ cursor: onPick ? "pointer" : "default" }}
      data-piece={piece.mark}
    >
      {piece.kind === "pattern" ? (
        <polygon
          points={ring(piece.cut_line)}
          fill={inks.sheet}
          stroke={inks.sun}
          strokeWidth={lit ? 4 : 1.6}
          data-cut-line
        />
      ) : (
        <rect
          x={x}
          y={y}
          width={w}
          height={h}
          fill={inks.sheet}
          stroke={lit ? inks.sun : inks.ink}
          strokeWidth={lit ? 4 : 1.2}
        />
      )}
      <polygon
        points={ring(piece.outline)}
        fill={inks.shade}
        fillOpacity={0.13}
        stroke={inks.ink}
        strokeWidth={1}
        strokeDasharray={piece.measured ? undefined : "5 4"}
      />
      <text
        x={x + w / 2}
        y={y + h / 2}
        textAnchor="middle"
        fontWeight="700"
        fontSize={Math.max(16, Math.min(34, room * 1.4))}
        fill={inks.ink}
      >
        {piece.mark}
        {piece.pair_mark ? "*" : ""}
      </text>
      <text
        x={x + w / 2}
        y={y + h / 2 + 19}
        textAnchor="middle"
        fontSize={Math.max(12, Math.min(16, room))}
        fill={inks.ink}
      >
        {piece.label}
      </text>
      <text
        x={x + w / 2}
        y={y + h / 2 + 37}
        textAnchor="middle"
        fontSize={Math.max(12, Math.min(15, room))}
        fill={inks.ink}
      >
        <Fractions svg text={`${showBare(piece.along_mm, unit)} × ${showBare(piece.across_mm, unit)}`} />
      </text>
      {piece.unlawful && (
        <text
          x={x + w / 2}
          y={y + h / 2 + 55}
          textAnchor="middle"
          fontSize={Math.max(12, Math.min(14, room))}
          fontWeight="700"
          fill={inks.bad}
        >
          {piece.unlawful.split(";")[0]}
        </text>
      )}
    </g>
  );
}

/** “keep 20 × 30” on one line, or on two where the offcut is drawn narrow. */
function KeepWords({ x, y, room, size }: { x: number; y: number; room: number; size: string }) {
  const { inks } = useTheme();
  const narrow = room < 130;
  const fontSize = narrow ? Math.max(12, Math.min(14, room / 5.5)) : 14;
  return (
    <text textAnchor="middle" fontSize={fontSize} fill={inks.ink}>
      {narrow && (
        <tspan x={x} y={y - 3}>
          keep
        </tspan>
      )}
      <tspan x={x} y={narrow ? y + fontSize : y + 5}>
        <Fractions svg text={narrow ? size : `keep ${size}`} />
      </tspan>
    </text>
  );
}

import { Box, Typography, useTheme } from "@mui/material";
import type { FilmPlan } from "../../api/client";
import { showBare, showLength, type LengthUnit } from "../logic/format";
import { allowanceWords } from "./allowances";
import type { Held, Moving, Piece } from "./hand";
import { around, fitted, markOn, type Box as Area, type Placed } from "./labels";
import { PieceDrawing, pieceWords, points, Words } from "./PieceDrawing";
import { Ruler, RULER } from "./Ruler";

const VIEW_WIDTH = 1180;
const TALLEST = 300;
export const MARGIN = 20;
/** Film drawn past what is pulled, so that pieces can be moved there [mm]. */
const FURTHER = 700;
const MARK = 11;

export type Stock = FilmPlan["stocks"][number];

/** One scale for all stock of a job: the largest at which each is as wide and as tall as there is room. */
export function scaleFor(stocks: readonly Stock[], room: number, tallest: number, byHand: boolean): number {
  const scales = stocks.map((stock) =>
    Math.min(
      (Math.min(VIEW_WIDTH, room) - MARGIN - 8) / drawnLength(stock, byHand),
      tallest / stock.width_mm,
    ),
  );
  return Math.min(tallest / 300, ...scales);
}

export { TALLEST, VIEW_WIDTH };

/** A roll is drawn as far as it is pulled, a sheet or offcut as a whole. */
export function drawnLength(stock: Stock, byHand: boolean): number {
  if (stock.kind !== "roll") return stock.length_mm;
  return byHand ? Math.min(stock.length_mm, stock.used_mm + FURTHER) : stock.used_mm;
}

interface Props {
  plan: FilmPlan;
  stock: Stock;
  scale: number;
  lit: (piece: Piece) => boolean;
  onPick: ((piece: Piece) => void) | undefined;
  moving: Moving | null;
  unit: LengthUnit;
}

/** What is cut from one stock, to scale, as it lies on the bench: pieces, cuts in order, what is kept. */
export function StockDrawing({ plan, stock, scale, lit, onPick, moving, unit }: Props) {
  const { inks } = useTheme();
  const length = drawnLength(stock, moving !== null);
  const [width, height] = [length * scale, stock.width_mm * scale];
  const pieces = plan.pieces.filter((piece) => piece.stock_id === stock.id);
  const rests = plan.leftovers.filter(
    (rest) => rest.stock_id === stock.id && rest.usable && rest.x_mm < drawnLength(stock, false) - 1,
  );
  const words = pieces.map((piece) => ({
    piece,
    ...pieceWords(piece, scale, height, unit, pairWords(piece)),
  }));
  const taken: Area[] = words.flatMap(({ block }) => (block ? [block.box] : []));
  const kept = rests.map((rest) => {
    const area = {
      x: rest.x_mm * scale,
      y: height - (rest.y_mm + rest.across_mm) * scale,
      w: rest.along_mm * scale,
      h: rest.across_mm * scale,
    };
    const block = keepWords(rest, area, taken, unit);
    if (block) taken.push(block.box);
    return { rest, area, block };
  });
  const cuts = plan.cuts
    .filter((cut) => cut.stock_id === stock.id)
    .map((cut) => {
      const [[startX = 0, startY = 0], [endX = 0, endY = 0]] = [cut.start, cut.end];
      const from: [number, number] = [startX * scale, height - startY * scale];
      const to: [number, number] = [endX * scale, height - endY * scale];
      const at = markOn(from, to, MARK, taken);
      taken.push(around(...at, MARK));
      return { cut, from, to, at };
    });
  const unsaid = words.filter(({ whole }) => !whole);
  const picked = pieces.filter((piece) => lit(piece) && piece.allowances.length > 0);
  const held = moving?.held?.place.stock_id === stock.id ? moving.held : null;
  return (
    <Box component="figure" sx={{ m: 0, mt: 1.5 }}>
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
          userSelect: moving ? "none" : "auto",
          // A finger on the film moves a piece; beside it, it scrolls the page.
          touchAction: moving ? "none" : "auto",
        }}
        role="group"
        aria-label={`${stock.label}: ${pieces.map((piece) => `${piece.mark} ${piece.label}`).join(", ")}`}
        data-stock={stock.id}
        data-scale={scale}
        data-height={height}
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
        {moving && stock.kind === "roll" && (
          <rect
            x={stock.used_mm * scale}
            y={0}
            width={Math.max(0, width - stock.used_mm * scale)}
            height={height}
            fill={inks.paper}
            stroke={inks.soft}
            strokeDasharray="6 5"
          />
        )}
        {kept.map(({ rest, area, block }) => (
          <g key={`${String(rest.x_mm)} ${String(rest.y_mm)}`}>
            <rect x={area.x} y={area.y} width={area.w} height={area.h} fill={inks.paper} stroke={inks.soft} />
            {block && <Words block={block} />}
          </g>
        ))}
        {words.map(({ piece, block }) => (
          <PieceDrawing
            key={piece.mark}
            piece={piece}
            scale={scale}
            height={height}
            lit={lit(piece)}
            unit={unit}
            block={block}
            onPick={onPick}
            onPointerDown={moving?.onPointerDown}
            onKeyDown={moving?.onKeyDown}
          />
        ))}
        {cuts.map(({ cut, from, to, at }) => (
          <g key={cut.number} pointerEvents="none">
            <line x1={from[0]} y1={from[1]} x2={to[0]} y2={to[1]} stroke={inks.sun} strokeWidth={2} />
            <circle cx={at[0]} cy={at[1]} r={MARK} fill={inks.sun} />
            <text
              x={at[0]}
              y={at[1] + 4.5}
              textAnchor="middle"
              fontSize="13"
              fontWeight="700"
              fill={inks.onSun}
            >
              {cut.number}
            </text>
          </g>
        ))}
        {held && <Ghost held={held} scale={scale} height={height} />}
        <Ruler length={length} scale={scale} top={height} unit={unit} ink={inks.ink} />
      </svg>
      {picked.map((piece) => (
        <Typography key={piece.mark} variant="body2" data-allowances>
          <b>{piece.mark}</b>
          {piece.kind === "pattern" && (piece.true_pattern ? ", true pattern" : ", projection")}:{" "}
          {allowanceWords(piece.allowances, unit)}
        </Typography>
      ))}
      {unsaid.length > 0 && (
        <Typography variant="body2" data-small-pieces>
          {unsaid
            .map(
              ({ piece }) =>
                `${piece.mark} ${piece.label}, ${showLength(piece.along_mm, unit)} × ${showLength(piece.across_mm, unit)}` +
                (piece.by_hand ? ", placed by hand" : "") +
                (pairWords(piece) === null ? "" : `, ${pairWords(piece) ?? ""}`),
            )
            .join(" · ")}
        </Typography>
      )}
    </Box>
  );
}

/** How a piece stands to its twin: the later of the two is the second sheet of a double cut, or its mirror image. */
function pairWords(piece: Piece): string | null {
  if (piece.pair_mark === null) return null;
  const double = piece.kind === "blank" && piece.method.startsWith("bulk");
  if (!double) return `mirrored ${piece.pair_mark}`;
  return piece.second_of_pair ? `2nd sheet on ${piece.pair_mark}` : `cut double with ${piece.pair_mark}`;
}

/** “keep 20 × 30” and what it is for, as far as there is room. */
function keepWords(
  rest: FilmPlan["leftovers"][number],
  area: Area,
  taken: readonly Area[],
  unit: LengthUnit,
): Placed | null {
  const size = `${showBare(rest.along_mm, unit)} × ${showBare(rest.across_mm, unit)}`;
  const middle = { x: area.x + area.w / 2, y: area.y + area.h / 2 };
  const room = { w: area.w - 8, h: area.h - 4 };
  const wide = [{ text: `keep ${size}`, size: 14 }, ...(rest.use ? [{ text: rest.use, size: 12.5 }] : [])];
  const narrow = [
    { text: "keep", size: 12.5 },
    { text: size, size: 12.5 },
  ];
  return (
    fitted(wide, middle, room, taken) ??
    fitted(wide.slice(0, 1), middle, room, taken) ??
    fitted(narrow, middle, room, taken)
  );
}

/** The piece in somebody's hand: drawn up to what lies near where it can be cut, hatched where it cannot. */
function Ghost({ held, scale, height }: { held: Held; scale: number; height: number }) {
  const { inks } = useTheme();
  const { piece, place, answer } = held;
  const turned = Math.abs(place.turn - piece.turn) % 180 === 90;
  const [along, across] = turned ? [piece.across_mm, piece.along_mm] : [piece.along_mm, piece.across_mm];
  const near =
    answer &&
    answer.stock_id === place.stock_id &&
    answer.turn === place.turn &&
    Math.abs(answer.x_mm - place.x_mm) < 40 &&
    Math.abs(answer.y_mm - place.y_mm) < 40;
  const bad = answer !== null && answer.refused !== "";
  const at = near && !bad ? answer : place;
  const colour = bad ? inks.bad : inks.sun;
  const moved = (ring: readonly number[][]) =>
    points(
      ring.map(([x = 0, y = 0]) => [x + at.x_mm - piece.x_mm, y + at.y_mm - piece.y_mm]),
      scale,
      height,
    );
  const shape = { fill: colour, fillOpacity: 0.22, stroke: colour, strokeWidth: 3, strokeDasharray: "7 5" };
  return (
    <g pointerEvents="none" data-ghost={bad ? "refused" : "fits"}>
      {piece.kind === "pattern" && place.turn === piece.turn ? (
        <polygon points={moved(piece.cut_line)} {...shape} />
      ) : (
        <rect
          x={at.x_mm * scale}
          y={height - (at.y_mm + across) * scale}
          width={along * scale}
          height={across * scale}
          {...shape}
        />
      )}
      <text
        x={(at.x_mm + along / 2) * scale}
        y={height - (at.y_mm + across / 2) * scale + 8}
        textAnchor="middle"
        fontSize={26}
        fontWeight={700}
        fill={colour}
      >
        {bad ? "✕" : piece.mark}
      </text>
    </g>
  );
}

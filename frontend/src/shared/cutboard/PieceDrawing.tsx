import { useTheme } from "@mui/material";
import type { KeyboardEvent, PointerEvent } from "react";
import { Fractions } from "../components/Fractions";
import { showBare, type LengthUnit } from "../logic/format";
import { showAllowance } from "./allowances";
import { keyOf, type Piece } from "./hand";
import { baselines, fitted, innerSpot, inside, widthOf, type Box, type Line, type Placed } from "./labels";

const PAD = 6;

/** A piece's words on the film, and whether all of them had room. */
export function pieceWords(
  piece: Piece,
  scale: number,
  height: number,
  unit: LengthUnit,
  pairWords: string | null,
): { block: Placed | null; whole: boolean } {
  const ring = (piece.kind === "pattern" ? piece.cut_line : []).map(([x = 0, y = 0]): [number, number] => [
    x * scale,
    height - y * scale,
  ]);
  const [w, h] = [piece.along_mm * scale, piece.across_mm * scale];
  const [x, y] = [piece.x_mm * scale, height - piece.y_mm * scale - h];
  const spot: Box = ring.length
    ? innerSpot(ring)
    : { x: x + PAD, y: y + PAD, w: w - 2 * PAD, h: h - 2 * PAD };
  const room = Math.min(spot.w / 6, spot.h / 3.4);
  const mark = Math.max(16, Math.min(34, room * 1.4));
  const words = Math.max(12.5, Math.min(16, room));
  const lines: Line[] = [
    { text: piece.mark, size: mark, bold: true },
    ...(piece.unlawful
      ? [{ text: piece.unlawful.split(";")[0] ?? "", size: words, bold: true, tone: "bad" as const }]
      : []),
    { text: piece.label, size: words },
    { text: `${showBare(piece.along_mm, unit)} × ${showBare(piece.across_mm, unit)}`, size: words },
    ...(piece.by_hand ? [{ text: "placed by hand", size: words, bold: true }] : []),
    ...(pairWords === null ? [] : [{ text: pairWords, size: words }]),
  ];
  const at = { x: spot.x + spot.w / 2, y: spot.y + spot.h / 2 };
  // All of it, then one word under another where the piece is narrow, then less of it; never half a name.
  for (let count = lines.length; count > 0; count--) {
    const shown = lines.slice(0, count);
    for (const set of [shown, shown.flatMap(stacked)]) {
      const block = fitted(set, at, spot);
      if (block?.lines.length === set.length) return { block, whole: count === lines.length };
    }
  }
  return { block: null, whole: false };
}

/** A line's words one under another; a size stays on one line. */
function stacked(line: Line): Line[] {
  if (line.text.includes("×")) return [line];
  return line.text.split(" ").map((text) => ({ ...line, text }));
}

interface Props {
  piece: Piece;
  scale: number;
  height: number;
  lit: boolean;
  unit: LengthUnit;
  block: Placed | null;
  onPick: ((piece: Piece) => void) | undefined;
  onPointerDown: ((piece: Piece, event: PointerEvent) => void) | undefined;
  onKeyDown: ((piece: Piece, event: KeyboardEvent) => boolean) | undefined;
}

/** A piece in its place; where it can be picked, it is a button for mouse and keyboard alike. */
export function PieceDrawing({
  piece,
  scale,
  height,
  lit,
  unit,
  block,
  onPick,
  onPointerDown,
  onKeyDown,
}: Props) {
  const { inks } = useTheme();
  const [w, h] = [piece.along_mm * scale, piece.across_mm * scale];
  const [x, y] = [piece.x_mm * scale, height - piece.y_mm * scale - h];
  const asButton = onPick
    ? {
        role: "button",
        tabIndex: 0,
        "aria-pressed": lit,
        "aria-label": [
          `${piece.mark} ${piece.label}`,
          `${showBare(piece.along_mm, unit)} × ${showBare(piece.across_mm, unit)}`,
          ...(piece.by_hand ? ["placed by hand"] : []),
          ...(piece.unlawful ? [piece.unlawful] : []),
        ].join(", "),
        onClick: () => onPick(piece),
        onKeyDown: (event: KeyboardEvent) => {
          if (onKeyDown?.(piece, event)) return;
          if (event.key !== "Enter" && event.key !== " ") return;
          event.preventDefault();
          onPick(piece);
        },
      }
    : {};
  const own = piece.kind === "pattern" ? inks.sun : inks.ink;
  const edge = {
    fill: inks.sheet,
    stroke: lit ? inks.sun : own,
    strokeWidth: lit ? 4 : piece.by_hand ? 2.6 : 1.4,
  };
  // Words stand beside the button, not in it: its name says all of them, whatever had room.
  return (
    <>
      <g
        {...asButton}
        className="piece"
        style={{ cursor: onPointerDown ? "grab" : onPick ? "pointer" : "default" }}
        data-piece={piece.mark}
        data-for={keyOf(piece)}
        onPointerDown={onPointerDown ? (event) => onPointerDown(piece, event) : undefined}
      >
        {piece.kind === "pattern" ? (
          <polygon points={points(piece.cut_line, scale, height)} {...edge} data-cut-line />
        ) : (
          <rect x={x} y={y} width={w} height={h} {...edge} />
        )}
        <polygon
          points={points(piece.outline, scale, height)}
          fill={inks.shade}
          fillOpacity={0.13}
          stroke={inks.ink}
          strokeWidth={1}
          strokeDasharray={piece.measured ? undefined : "5 4"}
        />
      </g>
      {block && <Words block={block} />}
      {lit && <AllowanceWords piece={piece} scale={scale} height={height} unit={unit} block={block} />}
    </>
  );
}

export function points(ring: readonly number[][], scale: number, height: number): string {
  return ring
    .map(([x = 0, y = 0]) => `${(x * scale).toFixed(1)},${(height - y * scale).toFixed(1)}`)
    .join(" ");
}

/** Whether a box lies inside of a ring with all its corners. */
function within(ring: readonly (readonly [number, number])[], box: Box): boolean {
  return [box.x, box.x + box.w].every((x) => [box.y, box.y + box.h].every((y) => inside(ring, x, y)));
}

/** Lines of words, each in the middle of its block. */
export function Words({ block }: { block: Placed }) {
  const { inks } = useTheme();
  const at = baselines(block);
  return (
    <g pointerEvents="none">
      {block.lines.map((line, i) => (
        <text
          key={`${String(i)} ${line.text}`}
          x={block.x}
          y={at[i]}
          textAnchor="middle"
          fontSize={line.size}
          fontWeight={line.bold ? 700 : 400}
          fill={line.tone === "bad" ? inks.bad : inks.ink}
        >
          <Fractions svg text={line.text} />
        </text>
      ))}
    </g>
  );
}

/** How far film is cut past each edge of the piece that is picked, by name, at that edge. */
function AllowanceWords({
  piece,
  scale,
  height,
  unit,
  block,
}: Pick<Props, "piece" | "scale" | "height" | "unit" | "block">) {
  const { inks } = useTheme();
  const taken: Box[] = block ? [block.box] : [];
  const centre = {
    x: (piece.x_mm + piece.along_mm / 2) * scale,
    y: height - (piece.y_mm + piece.across_mm / 2) * scale,
  };
  const outer = (piece.kind === "pattern" ? piece.cut_line : piece.outline).map(
    ([x = 0, y = 0]): [number, number] => [x * scale, height - y * scale],
  );
  return (
    <g pointerEvents="none">
      {piece.allowances.map((one) => {
        if (!one.at) return null;
        const [mx = 0, my = 0] = one.at;
        const [x, y] = [mx * scale, height - my * scale];
        // Inside of the edge, a step toward the middle.
        const far = Math.hypot(centre.x - x, centre.y - y) || 1;
        const step = 16;
        const line: Line = { text: showAllowance(one, unit), size: 12.5, bold: true };
        const room = { w: piece.along_mm * scale - 4, h: 40 };
        const half = widthOf(line) / 2;
        const left = piece.x_mm * scale;
        const at = {
          x: Math.min(
            Math.max(x + ((centre.x - x) / far) * step, left + half + 3),
            left + piece.along_mm * scale - half - 3,
          ),
          y: y + ((centre.y - y) / far) * step,
        };
        const block = fitted([line], at, room, taken);
        const words = block && within(outer, block.box) ? block : null;
        if (words) taken.push(words.box);
        return (
          <g key={one.edge}>
            <circle cx={x} cy={y} r={3.5} fill={inks.sun} />
            {words && <Words block={words} />}
          </g>
        );
      })}
    </g>
  );
}

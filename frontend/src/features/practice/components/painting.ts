import type { Frame, Lie } from "../api";
import { cells, LOOKS, seen, toScreen, WARMTH, type Fit, type Place } from "../logic/grid";

/** Colours of the setting, as the theme has them. */
export interface Colours {
  paper: string;
  sheet: string;
  ink: string;
  soft: string;
  sun: string;
  shade: string;
  bad: string;
  dark: boolean;
}

type Rgb = readonly [number, number, number];

const rgb = (hex: string): Rgb =>
  [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16)) as unknown as Rgb;
const mix = (a: Rgb, b: Rgb, share: number): Rgb =>
  [0, 1, 2].map((k) => (a[k] ?? 0) + ((b[k] ?? 0) - (a[k] ?? 0)) * share) as unknown as Rgb;

/** How dark film is by how it looks: what lies down is darkest, what floats lets light under it. */
const SHARE: Readonly<Record<number, number>> = {
  [LOOKS.bare]: 0,
  [LOOKS.floats]: 0.34,
  [LOOKS.wet]: 0.5,
  [LOOKS.clings]: 0.42,
  [LOOKS.down]: 0.82,
  [LOOKS.held]: 0.82,
  [LOOKS.drum]: 0.34,
};
const GLOW: Readonly<Record<number, number>> = {
  [WARMTH.cold]: 0,
  [WARMTH.soft]: 0.3,
  [WARMTH.works]: 0.55,
  [WARMTH.tooHot]: 0,
};

/** The film's cells as a small picture, one dot a cell, its foot at the bottom. */
export function cellPicture(
  frame: Frame,
  columns: number,
  rows: number,
  colours: Colours,
  trace: Uint8Array | null,
): ImageData {
  const [looks, warmth, marks] = [cells(frame.looks), cells(frame.warmth), cells(frame.marks)];
  const film: Rgb = colours.dark ? [120, 108, 160] : rgb(colours.shade);
  const [glass, sun, bad] = [rgb(colours.sheet), rgb(colours.sun), rgb(colours.bad)];
  const picture = new ImageData(columns, rows);
  for (let row = 0; row < rows; row += 1)
    for (let column = 0; column < columns; column += 1) {
      const at = row * columns + column;
      let colour = mix(glass, film, SHARE[looks[at] ?? 0] ?? 0);
      const warm = warmth[at] ?? 0;
      colour = warm === WARMTH.tooHot ? mix(colour, bad, 0.65) : mix(colour, sun, GLOW[warm] ?? 0);
      if (trace) colour = mix(glass, sun, Math.max(0, Math.min(1, ((trace[at] ?? 0) * 2 - 40) / 150)));
      if (marks[at]) colour = mix(colour, bad, 0.7);
      picture.data.set([colour[0], colour[1], colour[2], 255], ((rows - 1 - row) * columns + column) * 4);
    }
  return picture;
}

interface Painting {
  context: CanvasRenderingContext2D;
  fit: Fit;
  lie: Lie;
  columns: number;
  rows: number;
  colours: Colours;
}

/** Glass, film and fingers. */
export function paintFilm(
  painting: Painting,
  frame: Frame,
  trace: Uint8Array | null,
  scratch: HTMLCanvasElement,
): void {
  const { context, fit, lie, columns, rows, colours } = painting;
  const { width, height } = context.canvas;
  const ratio = context.getTransform().a;
  context.clearRect(0, 0, width / ratio, height / ratio);
  scratch.width = columns;
  scratch.height = rows;
  scratch.getContext("2d")?.putImageData(cellPicture(frame, columns, rows, colours, trace), 0, 0);
  const corner = (u: number, v: number) => toScreen(fit, seen(lie, u, v));
  const start = corner(lie.u_from - lie.u_step / 2, lie.v_from + (rows - 0.5) * lie.v_step);
  const along = corner(lie.u_from + (columns - 0.5) * lie.u_step, lie.v_from + (rows - 0.5) * lie.v_step);
  const down = corner(lie.u_from - lie.u_step / 2, lie.v_from - lie.v_step / 2);
  context.save();
  outline(context, fit, lie);
  if (frame.trimmed || frame.way === null) context.clip();
  context.save();
  context.imageSmoothingQuality = "high";
  context.transform(
    (along.x - start.x) / columns,
    (along.y - start.y) / columns,
    (down.x - start.x) / rows,
    (down.y - start.y) / rows,
    start.x,
    start.y,
  );
  context.drawImage(scratch, 0, 0);
  context.restore();
  if (!trace) {
    paintSigns(painting, frame);
    paintFingers(painting, frame);
  }
  context.restore();
  context.lineWidth = 2.5;
  context.strokeStyle = colours.ink;
  outline(context, fit, lie);
  context.stroke();
  if (frame.h_way) paintH(context, fit, lie, colours);
}

/** Wet, half-dry, taut and ruined film has its own sign in each cell: told apart without colour. */
function paintSigns({ context, fit, lie, columns, rows, colours }: Painting, frame: Frame): void {
  const [looks, marks] = [cells(frame.looks), cells(frame.marks)];
  context.save();
  context.lineWidth = 1.5;
  for (let row = 0; row < rows; row += 1)
    for (let column = row % 2; column < columns; column += 2) {
      const at = row * columns + column;
      const look = looks[at];
      const { x, y } = toScreen(
        fit,
        seen(lie, lie.u_from + column * lie.u_step, lie.v_from + row * lie.v_step),
      );
      context.strokeStyle = colours.dark ? "#ffffff" : colours.sheet;
      if (marks[at]) {
        context.strokeStyle = colours.ink;
        line(context, { x: x - 4, y: y - 4 }, { x: x + 4, y: y + 4 });
      } else if (look === LOOKS.wet) {
        context.beginPath();
        context.arc(x, y, 2.2, 0, 2 * Math.PI);
        context.stroke();
      } else if (look === LOOKS.clings) line(context, { x: x - 6, y }, { x: x + 6, y });
      else if (look === LOOKS.drum) {
        context.strokeStyle = colours.bad;
        line(context, { x, y: y - 6 }, { x, y: y + 6 });
      }
    }
  context.restore();
}

function outline(context: CanvasRenderingContext2D, fit: Fit, lie: Lie): void {
  context.beginPath();
  for (const [x = 0, y = 0] of lie.outline) {
    const at = toScreen(fit, { x, y });
    context.lineTo(at.x, at.y);
  }
  context.closePath();
}

/** Fingers as ridges, drawn on from row to row; those that soften are drawn in zigzag. */
function paintFingers({ context, fit, lie, colours }: Painting, frame: Frame): void {
  const byRow = new Map<number, number[][]>();
  for (const ridge of frame.ridges) {
    const row = ridge[0] ?? 0;
    byRow.set(row, [...(byRow.get(row) ?? []), ridge]);
  }
  context.save();
  for (const [row = 0, u = 0, high = 0, soft = 0] of frame.ridges) {
    const step = 2;
    const above = nearest(byRow.get(row + step) ?? [], u);
    const v = lie.v_from + row * lie.v_step;
    const end = { u: above ?? u, v: v + (above === null ? 0.8 : step) * lie.v_step };
    const side = soft ? 9 : 0;
    const turn = (row / step) % 2 ? side : -side;
    const low = toScreen(fit, seen(lie, u + turn, v));
    const top = toScreen(fit, seen(lie, end.u - turn, end.v));
    context.lineWidth = Math.max(2, Math.min(14, high * 1.3));
    context.strokeStyle = colours.dark ? "rgba(255,255,255,0.42)" : "rgba(255,255,255,0.7)";
    line(context, low, top);
    const off = Math.max(1.5, high * 0.6);
    context.lineWidth = soft ? 2.5 : 1.5;
    context.strokeStyle = soft ? colours.sun : colours.ink;
    line(context, { x: low.x + off, y: low.y }, { x: top.x + off, y: top.y });
  }
  context.restore();
}

const SAME_FINGER_MM = 45;

/** Where the same finger crosses the next row; null where it ends. */
function nearest(row: readonly number[][], u: number): number | null {
  let best: number | null = null;
  for (const [, other = 0] of row)
    if (Math.abs(other - u) < SAME_FINGER_MM && (best === null || Math.abs(other - u) < Math.abs(best - u)))
      best = other;
  return best;
}

function line(context: CanvasRenderingContext2D, from: Place, to: Place): void {
  context.beginPath();
  context.moveTo(from.x, from.y);
  context.lineTo(to.x, to.y);
  context.stroke();
}

/** The three lines of the H, dashed. */
function paintH(context: CanvasRenderingContext2D, fit: Fit, lie: Lie, colours: Colours): void {
  const ends = lie.outline.map(([x = 0, y = 0]) => (lie.way === "across" ? { u: x, v: y } : { u: y, v: -x }));
  const [low, high] = [Math.min(...ends.map((one) => one.v)), Math.max(...ends.map((one) => one.v))];
  const [left, right] = [Math.min(...ends.map((one) => one.u)), Math.max(...ends.map((one) => one.u))];
  context.save();
  outline(context, fit, lie);
  context.clip();
  context.setLineDash([9, 6]);
  context.lineWidth = 3;
  context.strokeStyle = colours.sun;
  line(context, toScreen(fit, seen(lie, left, 0)), toScreen(fit, seen(lie, right, 0)));
  for (const u of lie.side_lines)
    line(context, toScreen(fit, seen(lie, u, low)), toScreen(fit, seen(lie, u, high)));
  context.restore();
}

/** A ring round a place, for the tutor and for slips. */
export function paintRing(
  context: CanvasRenderingContext2D,
  fit: Fit,
  at: Place,
  radius: number,
  colour: string,
  width = 4,
): void {
  const place = toScreen(fit, at);
  context.save();
  context.lineWidth = width;
  context.strokeStyle = colour;
  context.beginPath();
  context.arc(place.x, place.y, Math.max(10, radius * fit.scale), 0, 2 * Math.PI);
  context.stroke();
  context.restore();
}

/** A cross where something went wrong. */
export function paintCross(context: CanvasRenderingContext2D, fit: Fit, at: Place, colour: string): void {
  const { x, y } = toScreen(fit, at);
  context.save();
  context.lineWidth = 4;
  context.strokeStyle = colour;
  line(context, { x: x - 8, y: y - 8 }, { x: x + 8, y: y + 8 });
  line(context, { x: x - 8, y: y + 8 }, { x: x + 8, y: y - 8 });
  context.restore();
}

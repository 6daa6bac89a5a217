import type { Lie } from "../api";

/** How a place of the film looks; the server's codes. */
export const LOOKS = { bare: 0, floats: 1, wet: 2, clings: 3, down: 4, held: 5, drum: 6 } as const;
export const WARMTH = { cold: 0, soft: 1, works: 2, tooHot: 3 } as const;

/** One byte a cell. */
export function cells(text: string): Uint8Array {
  return Uint8Array.from(atob(text), (one) => one.charCodeAt(0));
}

export interface Place {
  x: number;
  y: number;
}

/** A point of the film as the pane is seen from outside, up is up. */
export function seen(lie: Lie, u: number, v: number): Place {
  return lie.way === "across" ? { x: u, y: v } : { x: -v, y: u };
}

/** Where the pane lies on a drawing: its scale, and where its zero is [px]. */
export interface Fit {
  scale: number;
  left: number;
  base: number;
}

/** The pane with a margin, as large as the drawing has room. */
export function fitted(lie: Lie, columns: number, rows: number, width: number, height: number): Fit {
  const ends = [
    seen(lie, lie.u_from - lie.u_step / 2, lie.v_from - lie.v_step / 2),
    seen(lie, lie.u_from + (columns - 0.5) * lie.u_step, lie.v_from + (rows - 0.5) * lie.v_step),
  ];
  const [lowX, highX] = [Math.min(...ends.map((one) => one.x)), Math.max(...ends.map((one) => one.x))];
  const [lowY, highY] = [Math.min(...ends.map((one) => one.y)), Math.max(...ends.map((one) => one.y))];
  const margin = 10;
  const scale = Math.min((width - 2 * margin) / (highX - lowX), (height - 2 * margin) / (highY - lowY));
  return {
    scale,
    left: (width - scale * (highX - lowX)) / 2 - scale * lowX,
    base: (height + scale * (highY - lowY)) / 2 + scale * lowY,
  };
}

export const toScreen = (fit: Fit, place: Place): Place => ({
  x: fit.left + fit.scale * place.x,
  y: fit.base - fit.scale * place.y,
});

/** A point of the drawing on the pane, to a millimetre as strokes are kept. */
export const toPane = (fit: Fit, x: number, y: number): Place => ({
  x: Math.round((x - fit.left) / fit.scale),
  y: Math.round((fit.base - y) / fit.scale),
});

/** Minutes and seconds of a step. */
export function clockOf(step: number): string {
  const seconds = Math.floor(step / 10);
  return `${String(Math.floor(seconds / 60))}:${String(seconds % 60).padStart(2, "0")}`;
}

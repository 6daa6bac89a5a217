import type { Schemas } from "../../../api/client";

type View = Schemas["ShrinkView"];
type Point = number[];

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** What a drawing has to show: pane, cut line and whatever else, with a margin; y still up. */
export function boxOf(rings: readonly (readonly Point[])[], margin: number): Box {
  const points = rings.flat();
  if (points.length === 0) return { x: 0, y: 0, width: 1, height: 1 };
  const xs = points.map((point) => point[0] ?? 0);
  const ys = points.map((point) => point[1] ?? 0);
  const [left, right] = [Math.min(...xs) - margin, Math.max(...xs) + margin];
  const [low, high] = [Math.min(...ys) - margin, Math.max(...ys) + margin];
  return { x: left, y: low, width: right - left, height: high - low };
}

/** Points as an SVG draws them: y down, from the top left of the box. */
export function path(points: readonly Point[], box: Box, closed: boolean): string {
  const at = points.map(
    ([x = 0, y = 0]) => `${(x - box.x).toFixed(1)} ${(box.y + box.height - y).toFixed(1)}`,
  );
  return at.length === 0 ? "" : `M${at.join("L")}${closed ? "Z" : ""}`;
}

/** A place on a contour where its figure stands: as far from other figures as there is room. */
export function labelPlaces(
  contours: View["contours"],
  apart: number,
): { words: string; at: Point; isLimit: boolean }[] {
  const placed: { words: string; at: Point; isLimit: boolean }[] = [];
  for (const contour of [...contours].sort((a, b) => Number(b.is_limit) - Number(a.is_limit))) {
    const lines = [...contour.lines].sort((a, b) => b.length - a.length).slice(0, 2);
    for (const line of lines) {
      const tried = [0.5, 0.35, 0.65, 0.2, 0.8, 0.1, 0.9].map(
        (share) => line[Math.min(line.length - 1, Math.floor(share * line.length))] ?? [0, 0],
      );
      const free = tried.find((point) => placed.every((one) => distance(one.at, point) > apart));
      if (free) placed.push({ words: contour.words, at: free, isLimit: contour.is_limit });
    }
  }
  return placed;
}

function distance([x1 = 0, y1 = 0]: Point, [x2 = 0, y2 = 0]: Point): number {
  return Math.hypot(x1 - x2, y1 - y2);
}

/** Where a straight line x = place, or y = place, leaves an outline. */
export function spanAt(ring: readonly Point[], axis: 0 | 1, place: number): [number, number] | null {
  const met: number[] = [];
  ring.forEach((start, i) => {
    const end = ring[(i + 1) % ring.length] ?? start;
    const [a, b] = [(start[axis] ?? 0) - place, (end[axis] ?? 0) - place];
    if (a <= 0 === b <= 0) return;
    const share = a / (a - b);
    const [from, to] = [start[1 - axis] ?? 0, end[1 - axis] ?? 0];
    met.push(from + share * (to - from));
  });
  return met.length < 2 ? null : [Math.min(...met), Math.max(...met)];
}

/** A height to the nearest eighth of an inch, and never past the pane. */
export function ruled(mm: number, most: number): number {
  const eighth = 3.175;
  return Math.min(Math.max(Math.round(mm / eighth) * eighth, eighth), most - eighth);
}

/** The bite after so many done, and how many there are in its quarter. */
export function biteAt(view: Pick<View, "bites">, done: number) {
  const bite = view.bites[done];
  if (!bite) return null;
  const same = view.bites.filter((one) => one.quarter === bite.quarter);
  return { bite, of: same.length, number: same.findIndex((one) => one.number === bite.number) + 1 };
}

/** Where the words of a drawing stand: never on each other, never outside of what they name. */

export interface Box {
  x: number;
  y: number;
  w: number;
  h: number;
}

export interface Line {
  text: string;
  size: number;
  bold?: boolean;
  tone?: "bad";
}

export interface Placed {
  x: number;
  y: number;
  lines: Line[];
  box: Box;
}

/** Width of text on the screen, generously: no letter is wider than that on the average [share of its size]. */
const WIDE = 0.54;
const LEADING = 1.18;

export function widthOf(line: Line): number {
  return line.text.length * line.size * WIDE;
}

export function touch(one: Box, other: Box): boolean {
  return (
    one.x < other.x + other.w &&
    other.x < one.x + one.w &&
    one.y < other.y + other.h &&
    other.y < one.y + one.h
  );
}

/** A block of lines around a point, as few of the last ones as do not fit left out; nothing where none fits. */
export function fitted(
  lines: readonly Line[],
  at: { x: number; y: number },
  room: { w: number; h: number },
  taken: readonly Box[] = [],
): Placed | null {
  for (let count = lines.length; count > 0; count--) {
    const shown = lines.slice(0, count);
    const w = Math.max(...shown.map(widthOf));
    const h = shown.reduce((sum, line) => sum + line.size * LEADING, 0);
    if (w > room.w || h > room.h) continue;
    const box = { x: at.x - w / 2, y: at.y - h / 2, w, h };
    if (taken.some((one) => touch(one, box))) continue;
    return { ...at, lines: shown, box };
  }
  return null;
}

/** Base lines of a block's lines [px]. */
export function baselines(block: Placed): number[] {
  let y = block.box.y;
  return block.lines.map((line) => {
    y += line.size * LEADING;
    return y - line.size * (LEADING - 0.86);
  });
}

/** A ring's widest inner spot: a point and how wide and tall the free box around it is, on a coarse grid. */
export function innerSpot(ring: readonly (readonly [number, number])[]): Box {
  const xs = ring.map(([x]) => x);
  const ys = ring.map(([, y]) => y);
  const [left, top] = [Math.min(...xs), Math.min(...ys)];
  const [w, h] = [Math.max(...xs) - left, Math.max(...ys) - top];
  let best: Box = { x: left, y: top, w: 0, h: 0 };
  const steps = 12;
  for (let i = 1; i < steps; i++)
    for (let j = 1; j < steps; j++) {
      const [x, y] = [left + (w * i) / steps, top + (h * j) / steps];
      const free = freeAround(ring, x, y);
      // A block of words is wider than it is tall.
      if (Math.min(free.w / 2, free.h) > Math.min(best.w / 2, best.h)) best = free;
    }
  return best;
}

/** The box around a point, twice as wide as tall, that touches no side of a ring. */
function freeAround(ring: readonly (readonly [number, number])[], x: number, y: number): Box {
  if (!inside(ring, x, y)) return { x, y, w: 0, h: 0 };
  let reach = Infinity;
  ring.forEach(([x1, y1], i) => {
    const [x2, y2] = ring[(i + 1) % ring.length] ?? [x1, y1];
    // Across is counted half, so that the nearest side bounds a box twice as wide as tall.
    reach = Math.min(reach, distance((x1 - x) / 2, y1 - y, (x2 - x) / 2, y2 - y));
  });
  const half = reach * Math.SQRT1_2;
  return { x: x - 2 * half, y: y - half, w: 4 * half, h: 2 * half };
}

/** Distance of the origin from a stretch. */
function distance(x1: number, y1: number, x2: number, y2: number): number {
  const [dx, dy] = [x2 - x1, y2 - y1];
  const length = dx * dx + dy * dy;
  const t = length === 0 ? 0 : Math.max(0, Math.min(1, -(x1 * dx + y1 * dy) / length));
  return Math.hypot(x1 + t * dx, y1 + t * dy);
}

export function inside(ring: readonly (readonly [number, number])[], x: number, y: number): boolean {
  let odd = false;
  ring.forEach(([x1, y1], i) => {
    const [x2, y2] = ring[(i + 1) % ring.length] ?? [x1, y1];
    if (y1 > y !== y2 > y && x < x1 + ((y - y1) / (y2 - y1)) * (x2 - x1)) odd = !odd;
  });
  return odd;
}

/** Where on a stretch a round mark touches nothing that is taken; the first of the tried places where all do. */
export function markOn(
  start: readonly [number, number],
  end: readonly [number, number],
  radius: number,
  taken: readonly Box[],
): [number, number] {
  const tried = [0.22, 0.5, 0.78, 0.1, 0.9, 0.35, 0.65, 0.03, 0.97].map((t): [number, number] => [
    start[0] + (end[0] - start[0]) * t,
    start[1] + (end[1] - start[1]) * t,
  ]);
  const free = tried.find(([x, y]) => !taken.some((one) => touch(one, around(x, y, radius))));
  return free ?? tried[0] ?? [start[0], start[1]];
}

export function around(x: number, y: number, radius: number): Box {
  return { x: x - radius, y: y - radius, w: 2 * radius, h: 2 * radius };
}

import { describe, expect, it } from "vitest";
import { around, baselines, fitted, innerSpot, markOn, touch, widthOf } from "./labels";

const LINES = [
  { text: "A", size: 30, bold: true },
  { text: "Driver front", size: 15 },
  { text: "39 3/8 × 20 1/2", size: 14 },
];

describe("words in a drawing", () => {
  it("stand within their room, and as many of them as fit", () => {
    const all = fitted(LINES, { x: 100, y: 50 }, { w: 200, h: 90 });
    expect(all?.lines).toHaveLength(3);
    const two = fitted(LINES, { x: 100, y: 50 }, { w: 110, h: 60 });
    expect(two?.lines.map((line) => line.text)).toEqual(["A", "Driver front"]);
    const mark = fitted(LINES, { x: 100, y: 50 }, { w: 30, h: 40 });
    expect(mark?.lines.map((line) => line.text)).toEqual(["A"]);
    expect(fitted(LINES, { x: 100, y: 50 }, { w: 10, h: 10 })).toBeNull();
    for (const block of [all, two, mark]) {
      if (!block) throw new Error("no block");
      expect(Math.max(...block.lines.map(widthOf))).toBeLessThanOrEqual(block.box.w);
      const last = baselines(block).at(-1) ?? 0;
      expect(last).toBeLessThanOrEqual(block.box.y + block.box.h);
    }
  });

  it("never stand on what is taken", () => {
    const taken = [{ x: 40, y: 20, w: 120, h: 60 }];
    expect(fitted(LINES, { x: 100, y: 50 }, { w: 200, h: 90 }, taken)).toBeNull();
  });

  it("a small triangle has its words where it is widest inside", () => {
    const triangle = [
      [0, 0],
      [120, 0],
      [0, 60],
    ] as const;
    const spot = innerSpot(triangle);
    const [x, y] = [spot.x + spot.w / 2, spot.y + spot.h / 2];
    // Inside: under the long side x/120 + y/60 = 1, with all corners of its box.
    for (const [cx, cy] of [
      [spot.x, spot.y],
      [spot.x + spot.w, spot.y + spot.h],
    ] as const) {
      expect(cx).toBeGreaterThanOrEqual(0);
      expect(cy).toBeGreaterThanOrEqual(0);
      expect(cx / 120 + cy / 60).toBeLessThanOrEqual(1.01);
    }
    expect(x).toBeLessThan(60);
    expect(y).toBeLessThan(30);
    expect(spot.h).toBeGreaterThan(15);
  });

  it("a cut's number keeps clear of words and other numbers", () => {
    const taken = [{ x: 10, y: -20, w: 30, h: 40 }];
    const [x, y] = markOn([0, 0], [100, 0], 10, taken);
    expect(taken.some((one) => touch(one, around(x, y, 10)))).toBe(false);
    expect(markOn([0, 0], [100, 0], 10, [{ x: -50, y: -50, w: 300, h: 100 }])).toEqual([22, 0]);
  });
});

import { expect, test } from "vitest";
import { biteAt, boxOf, labelPlaces, path, ruled, spanAt } from "./heat";

const SQUARE = [
  [0, 0],
  [10, 0],
  [10, 4],
  [0, 4],
];

test("a drawing's box holds everything and its path has y down", () => {
  const box = boxOf([SQUARE], 1);
  expect(box).toEqual({ x: -1, y: -1, width: 12, height: 6 });
  expect(path(SQUARE, box, true)).toBe("M1.0 5.0L11.0 5.0L11.0 1.0L1.0 1.0Z");
  expect(path([], box, false)).toBe("");
  expect(boxOf([], 5).width).toBe(1);
});

test("figures on contours keep apart and the limit's comes first", () => {
  const line = (y: number) => Array.from({ length: 21 }, (_, i) => [i * 10, y]);
  const places = labelPlaces(
    [
      { percent: 1, words: "1 %", is_limit: false, lines: [line(0)] },
      { percent: 3, words: "3 %", is_limit: true, lines: [line(5)] },
    ],
    30,
  );
  expect(places[0]).toMatchObject({ words: "3 %", isLimit: true });
  const [first, second] = places;
  expect(Math.abs((first?.at[0] ?? 0) - (second?.at[0] ?? 0))).toBeGreaterThan(25);
});

test("a line leaves an outline at two points, or does not meet it", () => {
  expect(spanAt(SQUARE, 1, 2)).toEqual([0, 10]);
  expect(spanAt(SQUARE, 0, 5)).toEqual([0, 4]);
  expect(spanAt(SQUARE, 1, 9)).toBeNull();
});

test("heights are ruled to the eighth and stay on the pane", () => {
  expect(ruled(100, 400)).toBeCloseTo(31 * 3.175 + 3.175 - 3.175, 6);
  expect(ruled(-50, 400)).toBeCloseTo(3.175);
  expect(ruled(900, 400)).toBeCloseTo(400 - 3.175);
});

test("bites are counted within their quarter", () => {
  const bites = [1, 2, 3].map((number) => ({
    number,
    quarter: number < 3 ? ("upper left" as const) : ("upper right" as const),
    ring: [],
  }));
  expect(biteAt({ bites }, 1)).toMatchObject({ number: 2, of: 2 });
  expect(biteAt({ bites }, 2)).toMatchObject({ number: 1, of: 1 });
  expect(biteAt({ bites }, 3)).toBeNull();
});

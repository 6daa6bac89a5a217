import { expect, test } from "vitest";
import { beforeOf } from "./undo";

const window = { readings: { width: { typed: "39 3/8", mm: 1000.125, mode: "surface" as const } } };

test("a reading goes back to what it was, and one that was not there goes out again", () => {
  const changed = {
    width: { typed: "40", mode: "surface" as const },
    height: { typed: "20", mode: "chord" as const },
  };
  expect(beforeOf(window, changed)).toEqual({
    readings: { width: { typed: "39 3/8", mode: "surface" }, height: null },
    words: "Greatest width 39 3/8, Greatest height not read",
  });
});

test("a change of something else has nothing to undo here", () => {
  expect(beforeOf(window, undefined)).toBeNull();
  expect(beforeOf(window, {})).toBeNull();
});

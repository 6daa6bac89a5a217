import { expect, test } from "vitest";
import type { JobWindow } from "../../../api/client";
import { answersBefore, beforeOf } from "./undo";

const window = {
  readings: { width: { typed: "39 3/8", mm: 1000.125, mode: "surface" as const } },
  findings: { side_seals: "worn" },
};

test("a reading goes back to what it was, and one that was not there goes out again", () => {
  const readings = {
    width: { typed: "40", mode: "surface" as const },
    height: { typed: "20", mode: "chord" as const },
  };
  expect(beforeOf(window, { readings })).toEqual({
    change: { readings: { width: { typed: "39 3/8", mode: "surface" }, height: null } },
    words: "Greatest width 39 3/8, Greatest height not read",
  });
});

test("a finding goes back to what it was, and one that was open is open again", () => {
  expect(beforeOf(window, { findings: { side_seals: "clean", latch: "hand" } })).toEqual({
    change: { findings: { side_seals: "worn", latch: null } },
    words: "Side seals worn, Latch open",
  });
});

test("a change of something else has nothing to undo here", () => {
  expect(beforeOf(window, {})).toBeNull();
  expect(beforeOf(window, { readings: {} })).toBeNull();
});

test("answers taken over from the other side go back all at once", () => {
  const before = {
    findings: { latch: "hand" },
    old_film: false,
    coverage: "full",
  } as unknown as JobWindow;
  const after = {
    findings: { latch: "electric", side_seals: "worn" },
    old_film: true,
    coverage: "full",
  } as unknown as JobWindow;
  expect(answersBefore(before, after)).toEqual({
    old_film: false,
    findings: { latch: "hand", side_seals: null },
  });
});

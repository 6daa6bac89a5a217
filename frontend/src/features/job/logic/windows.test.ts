import { expect, it } from "vitest";
import type { JobWindow } from "../../../api/client";
import { ASKED_FACTS, READING_LABELS, VERDICT_WORDS, WORDS } from "../../../api/words";
import { furtherReadings, otherSide, pairWords, readingLabel } from "./windows";

it("names every reading as the core does, and an unknown one by its key", () => {
  expect(readingLabel("width")).toBe("Greatest width");
  expect(readingLabel("bow_top")).toBe("Bow of the top");
  expect(readingLabel("some_new_key")).toBe("some new key");
  expect(Object.keys(READING_LABELS).every((key) => readingLabel(key).length > 2)).toBe(true);
});

it("knows which readings go beyond what a level asks for", () => {
  const read = { typed: "20", mm: 508, mode: "surface" as const };
  const line = (key: string, kind: "side" | "extra") => ({ key, kind, start: [0, 0], end: [1, 1] });
  const pane = { lines: [line("bottom", "side"), line("mid_width", "extra"), line("mid_height", "extra")] };
  const window = { readings: { bottom: read, mid_width: read, bow_top: read }, pane } as unknown as JobWindow;
  expect(furtherReadings(window)).toEqual(["mid_width"]);
});

it("has words for every choice of every asked fact", () => {
  for (const fact of ASKED_FACTS)
    if ("options" in fact) expect(Object.values(fact.options).every((words) => words.length > 0)).toBe(true);
  expect(Object.keys(WORDS.Position)).toContain("front_side");
  expect(VERDICT_WORDS[0]).toBe("Not allowed");
});

const pane = (id: string, side: "driver" | "passenger" | "centre", over: object = {}) => ({
  id,
  side,
  position: "rear_side" as const,
  kind: "framed_door" as const,
  same_as_id: null,
  film_id: null,
  ...over,
});

it("finds the pane across the car: the mirror image that was said, else the same kind at the same place", () => {
  const front = { position: "front_side" as const };
  const all = [
    pane("df", "driver", front),
    pane("dr", "driver"),
    pane("dc", "driver", { kind: "fixed_side" }),
    pane("bk", "centre", { position: "rear_window" }),
    pane("pc", "passenger", { kind: "fixed_side" }),
    pane("pr", "passenger"),
    pane("pf", "passenger", { ...front, same_as_id: "df" }),
  ];
  const across = (id: string) =>
    all.filter((one) => one.id === id).flatMap((one) => otherSide(one, all).map((other) => other.id));
  expect(across("df")).toEqual(["pf"]);
  expect(across("pf")).toEqual(["df"]);
  expect(across("dr")).toEqual(["pr"]);
  expect(across("pc")).toEqual(["dc"]);
  expect(across("bk")).toEqual([]);
  expect([pairWords("front_side"), pairWords("rear_side"), pairWords("rear_window")]).toEqual([
    "Both fronts",
    "Both rears",
    "Both sides",
  ]);
});

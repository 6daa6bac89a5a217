import { expect, it } from "vitest";
import { ASKED_FACTS, READING_LABELS, VERDICT_WORDS, WORDS } from "../../../api/words";
import { furtherReadings, readingLabel } from "./windows";

it("names every reading as the core does, and an unknown one by its key", () => {
  expect(readingLabel("width")).toBe("Greatest width");
  expect(readingLabel("bow_top")).toBe("Bow of the top");
  expect(readingLabel("some_new_key")).toBe("some new key");
  expect(Object.keys(READING_LABELS).every((key) => readingLabel(key).length > 2)).toBe(true);
});

it("knows which readings go beyond what a level asks for", () => {
  expect(furtherReadings(["bottom", "mid_width", "top_left_to_bottom", "bow_top"])).toEqual([
    "mid_width",
    "top_left_to_bottom",
  ]);
});

it("has words for every choice of every asked fact", () => {
  for (const fact of ASKED_FACTS)
    if ("options" in fact) expect(Object.values(fact.options).every((words) => words.length > 0)).toBe(true);
  expect(Object.keys(WORDS.Position)).toContain("front_side");
  expect(VERDICT_WORDS[0]).toBe("Not allowed");
});

import { expect, test } from "vitest";
import type { Verdict } from "../../api/client";
import { bindingFirst } from "./verdicts";

const said = (state: string, word: Verdict["word"], margin_points: number | null) =>
  ({ state, word, margin_points }) as Verdict;

test.each([
  ["the worse word", [said("TX", "Clears", 1), said("OK", "Too dark", -1)], "OK"],
  ["the tighter of two that clear", [said("TX", "Clears", 5), said("OK", "Clears", 2)], "OK"],
  ["a figure before none", [said("TX", "Clears", null), said("OK", "Clears", 9)], "OK"],
  ["what holds before what is close", [said("TX", "Close", 1), said("OK", "No rule on file", null)], "OK"],
  ["within tolerance before close", [said("TX", "Close", 1), said("OK", "Within tolerance", -1)], "OK"],
])("%s binds", (_, verdicts, state) => {
  expect(bindingFirst(verdicts)[0]?.state).toBe(state);
  expect(bindingFirst([...verdicts].reverse())[0]?.state).toBe(state);
});

import { expect, test } from "vitest";
import { shownAs } from "./shown";

test.each([
  ["mm", "in", 25.4, "1", "in"],
  ["mm", "in", 3.175, "1/8", "in"],
  ["mm", "in", 9.525, "3/8", "in"],
  ["mm", "mm", 25.4, "25.4", "mm"],
  ["mm²", "in", 645.16, "1", "in²"],
  ["mm²", "mm", 700000, "700000", "mm²"],
  ["1", "in", 0.3, "0.3", "1"],
  ["min", "mm", 1.5, "1.5", "min"],
] as const)(
  "a figure in %s is shown on a screen in %s: %d as %s %s",
  (kept, unit, value, text, shownUnit) => {
    const shown = shownAs(kept, unit);
    expect([shown.show(value), shown.unit]).toEqual([text, shownUnit]);
    expect(shown.read(text)).toBeCloseTo(value, 6);
  },
);

test("what is no figure is none", () => {
  expect(shownAs("mm", "in").read("about one")).toBeNaN();
  expect(shownAs("min", "in").read("")).toBeNaN();
});

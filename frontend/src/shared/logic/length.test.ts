import { describe, expect, it, test } from "vitest";
import cases from "../../../../tests/catalogue/lengths.json";
import { formatInches, parseLength, withUnit } from "./length";

describe("the browser's length parser keeps to the shared table", () => {
  it.each(cases.good as [string, number][])("reads %s as %d mm", (typed, mm) => {
    const parsed = parseLength(typed);
    expect(parsed.ok && Math.abs(parsed.mm - mm) < 1e-9).toBe(true);
  });
  it.each(cases.bad)("refuses “%s” with a reason", (typed) => {
    const parsed = parseLength(typed);
    expect(parsed.ok).toBe(false);
    if (!parsed.ok) expect(parsed.reason.length).toBeGreaterThan(20);
  });
  it.each(cases.formatted as [number, string][])("shows %d mm as %s", (mm, text) => {
    expect(formatInches(mm)).toBe(text);
  });
});

test.each([
  ["39.5", "in", "size", "39.5"],
  ["1000", "mm", "size", "1000 mm"],
  ["39 3/8", "mm", "size", "39 3/8"],
  ["12 in", "mm", "size", "12 in"],
  ["100", "in", "roll", "100 ft"],
  ["30", "mm", "roll", "30 m"],
  ["78 in", "in", "roll", "78 in"],
  ["", "mm", "size", ""],
] as const)("a bare %s means, in %s along a %s, %s", (text, unit, along, meant) => {
  expect(withUnit(text, unit, along)).toBe(meant);
});

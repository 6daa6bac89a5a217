import { describe, expect, it } from "vitest";
import cases from "../../../../tests/catalogue/lengths.json";
import { formatInches, parseLength } from "./length";

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

import { describe, expect, it } from "vitest";
import { dayAfter, dayOf, momentOf, shortDay, wallOf } from "./zone";

const CHICAGO = "America/Chicago";

describe("wall times of the shop's zone", () => {
  it.each([
    ["2026-11-27T14:30:00.000Z", CHICAGO, "2026-11-27T08:30"],
    ["2026-07-01T13:00:00.000Z", CHICAGO, "2026-07-01T08:00"],
    ["2026-03-08T07:59:00.000Z", CHICAGO, "2026-03-08T01:59"],
    ["2026-03-08T08:00:00.000Z", CHICAGO, "2026-03-08T03:00"],
    ["2026-11-27T00:15:00.000Z", "Asia/Kolkata", "2026-11-27T05:45"],
    ["2026-01-01T00:00:00.000Z", "UTC", "2026-01-01T00:00"],
  ])("%s in %s is %s and back", (iso, zone, wall) => {
    expect(wallOf(iso, zone)).toBe(wall);
    expect(momentOf(wall, zone)).toBe(iso);
  });

  it("takes a time that the change to summer time skips as an hour later", () => {
    expect(wallOf(momentOf("2026-03-08T02:30", CHICAGO), CHICAGO)).toMatch(/^2026-03-08T0[13]:30$/);
  });

  it("says nothing of what is no time", () => {
    expect(momentOf("", CHICAGO)).toBe("");
  });

  it("counts days over the end of a month and a year", () => {
    expect(dayAfter("2026-12-31", 1)).toBe("2027-01-01");
    expect(dayAfter("2026-03-01", -1)).toBe("2026-02-28");
    expect(dayOf("2026-11-27T03:00:00Z", CHICAGO)).toBe("2026-11-26");
    expect(shortDay("2026-11-27")).toMatch(/Fri/);
  });
});

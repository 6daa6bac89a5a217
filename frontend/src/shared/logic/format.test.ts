import { describe, expect, it } from "vitest";
import {
  counted,
  linearGrey,
  showAbout,
  showLength,
  showMoney,
  showPercent,
  showPromise,
  showRoll,
} from "./format";

it("shows lengths in the chosen unit", () => {
  expect(showLength(1000.125, "in")).toBe("39 3/8 in");
  expect(showLength(1000.125, "mm")).toBe("1000 mm");
});

it("shows percent without idle decimals", () => {
  expect(showPercent(29.1667)).toBe("29.2 %");
  expect(showPercent(30)).toBe("30 %");
});

it("shows money to the cent", () => {
  expect(showMoney(52.739)).toBe("$52.74");
});

it("says promised times as people do", () => {
  const now = new Date(2026, 10, 24, 9, 0);
  const at = (day: number, hour: number) => new Date(2026, 10, day, hour, 30).toISOString();
  expect(showPromise(at(24, 14), now)).toBe("today 2:30 PM");
  expect(showPromise(at(25, 9), now)).toBe("tomorrow 9:30 AM");
  expect(showPromise(at(23, 9), now)).toBe("yesterday 9:30 AM");
  expect(showPromise(at(27, 9), now)).toContain("Fri");
  expect(showPromise(null, now)).toBe("no time promised");
});

it.each([
  [20, "rgb(124, 124, 124)"],
  [5, "rgb(63, 63, 63)"],
  [100, "rgb(255, 255, 255)"],
  [0, "rgb(0, 0, 0)"],
  [140, "rgb(255, 255, 255)"],
])("encodes %s %% of linear light for the screen", (percent, colour) => {
  expect(linearGrey(percent)).toBe(colour);
});

describe("a length along a roll", () => {
  it.each([
    [100 * 304.8, "in", "100 ft"],
    [61 * 304.8 + 25.4 * 2.5, "in", "61 ft 2 1/2 in"],
    [119.99 * 25.4 + 0.1, "in", "120 in"],
    [11.999 * 304.8, "in", "12 ft"],
    [500, "mm", "500 mm"],
    [30480, "mm", "30.48 m"],
  ] as const)("%d mm in %s is %s", (mm, unit, words) => {
    expect(showRoll(mm, unit)).toBe(words);
  });
});

it("shows what is known roughly without inches of a sixteenth", () => {
  expect(showAbout(18_288, "in")).toBe("60.0 ft");
  expect(showAbout(18_288, "mm")).toBe("18.29 m");
});

it("counts one and several", () => {
  expect([0, 1, 2].map((number) => counted(number, "window"))).toEqual([
    "0 windows",
    "1 window",
    "2 windows",
  ]);
});

it("tells no sum where none was sent", () => {
  expect(showMoney(null)).toBe("");
});

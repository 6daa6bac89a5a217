import { expect, test } from "vitest";
import type { FilmPlan } from "../../api/client";
import { pullsOf, pullWords } from "./pulls";

const cut = (stock_id: string, kind: FilmPlan["cuts"][number]["kind"], at_mm: number) =>
  ({ stock_id, kind, at_mm }) as FilmPlan["cuts"][number];
const cuts = [
  cut("r", "across_roll", 370),
  cut("r", "along", 400),
  cut("r", "across_roll", 500),
  cut("o", "across_roll", 90),
];
const roll = { id: "r", kind: "roll" as const, used_mm: 870, label: "D20-24" };

test("two pulls are told as two, one as one, and an offcut is taken", () => {
  const show = (mm: number) => `${mm} mm`;
  expect(pullsOf({ cuts }, roll)).toEqual([370, 500]);
  expect(pullWords({ cuts }, roll, show)).toBe("pull 370 mm, then 500 mm from D20-24");
  expect(pullWords({ cuts: cuts.slice(0, 2) }, { ...roll, used_mm: 370 }, show)).toBe(
    "pull 370 mm from D20-24",
  );
  expect(pullWords({ cuts }, { id: "o", kind: "offcut", used_mm: 90, label: "Offcut 2" }, show)).toBe(
    "take 90 mm of Offcut 2",
  );
});

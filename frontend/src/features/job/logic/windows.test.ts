import { expect, it } from "vitest";
import type { Job, JobWindow } from "../../../api/client";
import { FEATURES, filmGroups, optionalKeys, READING_LABELS, readingKeys, REASONS, REGISTERED_AS, ticks } from "./windows";

const window = (over: Partial<JobWindow>): JobWindow =>
  ({
    id: "w", label: "Driver front", position: "front_side", glass_type: "tempered", level: "shape", figure: "four", film_id: "f", worst: "Clears", cannot_cut: null,
    pane: { ring: [[0, 0]], missing: [], fit: null },
    ...over,
  }) as unknown as JobWindow;

it("asks for six readings of four corners and three of three", () => {
  expect(readingKeys(window({}))).toHaveLength(6);
  expect(readingKeys(window({ figure: "three" }))).toEqual(["bottom", "left", "right"]);
  expect(readingKeys(window({ level: "size" }))).toEqual(["width", "height"]);
});

it("offers no bows for a pane of which only the size is wanted", () => {
  expect(optionalKeys(window({ level: "size" })).map(([key]) => key)).toEqual(["crown_across", "crown_up"]);
  expect(optionalKeys(window({ figure: "three" })).map(([key]) => key)).toContain("radius_top");
});

it("ticks stations by what holds the window", () => {
  expect(ticks(window({}), new Set(["w"]))).toEqual({ survey: "done", shade: "done", cut: "done" });
  expect(ticks(window({ worst: "Too dark" }), new Set())).toMatchObject({ shade: "trouble", cut: "open" });
  expect(ticks(window({ worst: null, film_id: null }), new Set())).toMatchObject({ shade: "open", cut: "open" });
  expect(ticks(window({ cannot_cut: "Not measured." }), new Set())).toMatchObject({ cut: "trouble" });
  expect(ticks(window({ pane: { ring: [], missing: [{ key: "width", label: "" }], fit: null, measured: false, corners: [], width_mm: null, height_mm: null, cautions: [] } }), new Set()).survey).toBe("open");
});

it("puts film on groups that leave out windshield and plastic", () => {
  const job = {
    windows: [
      window({ id: "df" }),
      window({ id: "bk", position: "rear_window" }),
      window({ id: "ws", position: "windshield" }),
      window({ id: "soft", position: "rear_window", glass_type: "plastic" }),
    ],
  } as unknown as Job;
  const groups = filmGroups(job, job.windows[0]);
  expect(groups.map((group) => group.ids)).toEqual([["df"], ["df"], ["bk"], ["df", "bk"]]);
});

it("has words for every fact that the law asks about", () => {
  for (const words of [...Object.values(REGISTERED_AS), ...Object.values(REASONS), ...Object.values(FEATURES)]) expect(words.trim()).not.toBe("");
  expect(Object.keys(REGISTERED_AS)).toHaveLength(14);
  for (const key of ["strip_depth", "as1_depth", "strip_above_seat", "housing_width", "housing_depth"]) expect(READING_LABELS[key]).toBeTruthy();
});

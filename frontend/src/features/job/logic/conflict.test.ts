import { describe, expect, test } from "vitest";
import { clashes, settled, told } from "./conflict";

const theirs = (field: string, now: unknown) => ({
  field,
  now,
  person_id: "tomas",
  at: "2026-11-25T10:00:00Z",
});

describe("what two people changed", () => {
  test("the same field to two values is a clash, told with who and when", () => {
    expect(clashes({ film_id: "a" }, [theirs("film_id", "b")])).toEqual([
      { field: "film_id", mine: "a", theirs: "b", personId: "tomas", at: "2026-11-25T10:00:00Z" },
    ]);
  });
  test("different fields, or the same value, are none", () => {
    expect(clashes({ film_id: "a" }, [theirs("old_film", true)])).toEqual([]);
    expect(clashes({ layers: ["film"] }, [theirs("layers", ["film"])])).toEqual([]);
  });
  test("a reading clashes with the same reading only", () => {
    const mine = { readings: { top: { typed: "22" }, left: { typed: "18" } } };
    const changed = [
      theirs("readings.top", { typed: "23" }),
      theirs("readings.left", { typed: "18" }),
      theirs("readings.right", { typed: "9" }),
    ];
    expect(clashes(mine, changed).map((one) => one.field)).toEqual(["readings.top"]);
  });
  test("a reading that they took out clashes with mine", () => {
    const [found] = clashes({ readings: { top: { typed: "22" } } }, [theirs("readings.top", null)]);
    expect([told(found?.mine), told(found?.theirs)]).toEqual(["22", "nothing"]);
  });
});

test("a finding clashes with the same finding only", () => {
  const mine = { findings: { side_seals: "worn", latch: null } };
  const changed = [theirs("findings.side_seals", "clean"), theirs("findings.panel", "leather")];
  expect(clashes(mine, changed).map((one) => one.field)).toEqual(["findings.side_seals"]);
  expect(clashes(mine, [theirs("findings.latch", null)])).toEqual([]);
  expect(settled(mine, new Set(["findings.side_seals"]))).toEqual({ findings: { latch: null } });
});

test("what is sent is mine without what stays theirs", () => {
  const mine = { film_id: "a", readings: { top: { typed: "22" }, left: { typed: "18" } } };
  expect(settled(mine, new Set())).toEqual(mine);
  expect(settled(mine, new Set(["film_id", "readings.top"]))).toEqual({
    readings: { left: { typed: "18" } },
  });
  expect(settled(mine, new Set(["film_id", "readings.top", "readings.left"]))).toEqual({});
});

test.each([
  [null, "nothing"],
  [true, "yes"],
  [["rear_side", "roof"], "rear side, roof"],
  [[], "nothing"],
  [35, "35"],
  [{ typed: "39 3/8" }, "39 3/8"],
])("tells %j as %s", (value, words) => {
  expect(told(value)).toBe(words);
});

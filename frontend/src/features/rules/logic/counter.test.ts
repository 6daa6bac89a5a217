import { expect, test } from "vitest";
import type { Question } from "../../../api/client";
import { answered, NOTHING_SAID, type Case } from "./counter";

const CASE: Case = {
  ...NOTHING_SAID,
  state: "IL",
  film_id: "dusk35",
  car: { vehicle_class: "passenger" },
  window: { position: "front_side" },
};

function asked(over: Partial<Question>): Question {
  return {
    asks: "bare_vlt",
    text: "?",
    window_id: "this",
    position: null,
    law_field: "",
    film_id: "",
    fact: "",
    ...over,
  };
}

test("an answer of the car, the film or this window goes where it belongs, and nothing else changes", () => {
  const car = answered(CASE, asked({ asks: "mirrors_both_sides" }), { car: { mirrors_both_sides: true } });
  expect(car).toEqual({ ...CASE, car: { vehicle_class: "passenger", mirrors_both_sides: true } });
  const film = answered(CASE, asked({ asks: "film_finish" }), { film: { mirror_finish: false } });
  expect(film.film).toEqual({ mirror_finish: false });
  const read = answered(CASE, asked({}), { window: { bare_readings_percent: [74] } });
  expect(read.window).toMatchObject({ position: "front_side", bare_readings_percent: [74] });
});

test("a tape reading is kept as typed beside the others, and can be emptied", () => {
  const once = answered(CASE, asked({ asks: "strip_depth" }), {
    window: { readings: { strip_depth: { typed: "5", mode: "surface" } } },
  });
  const twice = answered(once, asked({ asks: "as1_depth" }), {
    window: { readings: { as1_depth: { typed: "5 1/2", mode: "surface" } } },
  });
  expect(twice.window.readings).toEqual({ strip_depth: "5", as1_depth: "5 1/2" });
  const emptied = answered(twice, asked({}), { window: { readings: { strip_depth: null } } });
  expect(emptied.window.readings).toEqual({ strip_depth: "", as1_depth: "5 1/2" });
});

test("glass elsewhere is listed once a position: none there, or what it passes", () => {
  const there = asked({ asks: "glass_there", position: "rear_side" });
  const none = answered(CASE, there, { glass: { there: false } });
  expect(none.others).toEqual([{ position: "rear_side", there: false, filmed: false }]);
  const some = answered(none, there, { glass: { there: true, percent: 20, filmed: true } });
  expect(some.others).toHaveLength(1);
  expect(some.others?.[0]).toMatchObject({ there: true, filmed: true, bare_readings_percent: [20] });
  const more = answered(some, asked({ asks: "bare_vlt", window_id: "other-rear_side" }), {
    window: { as1_mark: false },
  });
  expect(more.others?.[0]).toMatchObject({ bare_readings_percent: [20], as1_mark: false });
});

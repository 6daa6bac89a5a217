import { expect, it } from "vitest";
import type { DayCar } from "./api";
import { proposed } from "./choice";

function car(job_id: string, promised_at: string | null, ...films: string[]): DayCar {
  return {
    job_id,
    number: 1,
    title: job_id,
    vehicle_label: job_id,
    promised_at,
    films: films.map((film_id) => ({ film_id, name: film_id, pieces: 2 })),
  };
}

it("proposes cars due by tonight that share a film, and no others", () => {
  const now = new Date("2026-11-26T10:00:00");
  const cars = [
    car("late", "2026-11-25T09:00:00", "dusk"),
    car("noon", "2026-11-26T12:00:00", "dusk", "harbor"),
    car("alone", "2026-11-26T15:00:00", "clear"),
    car("tomorrow", "2026-11-27T09:00:00", "dusk"),
    car("whenever", null, "harbor"),
  ];
  expect(proposed(cars, now)).toEqual(["late", "noon"]);
  expect(proposed([], now)).toEqual([]);
});

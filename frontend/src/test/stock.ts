import type { Rack } from "../api/client";

export type Item = Rack["stock"][number];

/** A made-up roll of 100 ft, some of it used. */
export const item = (id: string, label: string, more: Partial<Item> = {}): Item => ({
  id,
  film_id: "f1",
  kind: "roll",
  label,
  width: "60 in",
  width_mm: 1524,
  full_length: "100 ft",
  full_length_mm: 30480,
  length_left: "61 ft",
  length_left_mm: 18592.8,
  held_mm: 0,
  free_mm: 18592.8,
  price: 300,
  price_per_m2: 6.46,
  lot: "H-77",
  liner: "unknown",
  place: "top",
  received_on: "2026-03-01",
  opened_on: null,
  slittable: true,
  code: "S1",
  version: 8,
  ...more,
});

import { expect, test } from "vitest";
import { COLUMNS, TILES } from "./tiles";

test("every one of the 51 jurisdictions has a tile of its own", () => {
  const places = Object.values(TILES).map(([column, row]) => `${String(column)},${String(row)}`);
  expect(Object.keys(TILES)).toHaveLength(51);
  expect(new Set(places).size).toBe(51);
  expect(Object.values(TILES).every(([column]) => column >= 0 && column < COLUMNS)).toBe(true);
});

import { expect, test } from "vitest";
import { textIn } from "./room";

test.each([
  [640, 640, 14, 14],
  [640, 1280, 14, 14],
  [640, 320, 14, 25],
  [640, 320, 30, 30],
])("in a drawing of %d units shown %d px wide, text of %d is drawn as %d", (units, shown, size, drawn) => {
  expect(textIn(units, shown)(size)).toBe(drawn);
  expect((textIn(units, shown)(size) * shown) / units).toBeGreaterThanOrEqual(12);
});

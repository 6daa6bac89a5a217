import { expect, it } from "vitest";
import { keptSize } from "./photo";

it("keeps a picture's shape, its longer side at most 1600", () => {
  expect(keptSize(4000, 3000)).toEqual([1600, 1200]);
  expect(keptSize(300, 6000)).toEqual([80, 1600]);
  expect(keptSize(640, 480)).toEqual([640, 480]);
  expect(keptSize(1, 90000)).toEqual([1, 1600]);
});

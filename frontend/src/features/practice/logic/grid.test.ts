import { describe, expect, it } from "vitest";
import type { Lie } from "../api";
import { cells, clockOf, fitted, seen, toPane, toScreen } from "./grid";

const lie = (way: "across" | "up"): Lie => ({
  way,
  u_from: -500,
  u_step: 20,
  v_from: -200,
  v_step: 10,
  on_glass: "",
  outline: [],
  side_lines: [-400, 400],
  order: [],
});

describe("grid", () => {
  it("reads a byte a cell", () => {
    expect([...cells(btoa("\x00\x05\xff"))]).toEqual([0, 5, 255]);
  });

  it("turns film laid up the pane as it is seen from outside", () => {
    expect(seen(lie("across"), 3, 1)).toEqual({ x: 3, y: 1 });
    expect(seen(lie("up"), 3, 1)).toEqual({ x: -1, y: 3 });
  });

  it.each([
    ["across", 800, 500],
    ["up", 800, 500],
    ["across", 300, 700],
  ] as const)("keeps the whole pane %s within %d by %d, and finds points again", (way, width, height) => {
    const fit = fitted(lie(way), 60, 40, width, height);
    for (const [u, v] of [
      [-510, -205],
      [690, 195],
      [0, 0],
    ] as const) {
      const at = toScreen(fit, seen(lie(way), u, v));
      expect(at.x).toBeGreaterThanOrEqual(0);
      expect(at.x).toBeLessThanOrEqual(width);
      expect(at.y).toBeGreaterThanOrEqual(0);
      expect(at.y).toBeLessThanOrEqual(height);
      const back = toPane(fit, at.x, at.y);
      expect(Math.abs(back.x - seen(lie(way), u, v).x)).toBeLessThanOrEqual(1);
      expect(Math.abs(back.y - seen(lie(way), u, v).y)).toBeLessThanOrEqual(1);
    }
  });

  it("says minutes and seconds", () => {
    expect([0, 9, 10, 655, 9000].map(clockOf)).toEqual(["0:00", "0:00", "0:01", "1:05", "15:00"]);
  });
});

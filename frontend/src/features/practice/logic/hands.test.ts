import { describe, expect, it } from "vitest";
import { BEGIN, moved, strokesOf, toolFor, type Contact } from "./hands";

const at = (tool: Contact["tool"], x = 0, y = 0): Contact => ({ tool, place: { x, y } });

describe("hands", () => {
  it("heats with one finger and presses with the other", () => {
    expect(toolFor(new Map(), BEGIN, false)).toBe("gun");
    expect(toolFor(new Map([["1", at("gun")]]), BEGIN, false)).toBe("card");
    expect(toolFor(new Map(), BEGIN, true)).toBe("card");
    expect(toolFor(new Map(), { ...BEGIN, tool: "glove" }, false)).toBe("glove");
    expect(toolFor(new Map([["1", at("card")]]), { ...BEGIN, tool: "card" }, true)).toBe("gun");
  });

  it("makes strokes of what is down, one gun at most", () => {
    const down = new Map([
      ["1", at("gun", 5, 6)],
      ["2", at("gun", 7, 8)],
      ["3", at("card", 1, -2)],
    ]);
    expect(strokesOf(down, { ...BEGIN, high: false, near: 35 })).toEqual([
      ["gun", 5, 6, 0, 35],
      ["card", 1, -2],
    ]);
    expect(strokesOf(new Map(), BEGIN)).toEqual([]);
  });

  it("moves the cursor by the arrow keys and keeps it near the pane", () => {
    const most = { x: 100, y: 50 };
    expect(moved({ x: 0, y: 0 }, "ArrowUp", false, most)).toEqual({ x: 0, y: 15 });
    expect(moved({ x: 90, y: 0 }, "ArrowRight", true, most)).toEqual({ x: 100, y: 0 });
    expect(moved({ x: 0, y: 0 }, "x", false, most)).toBeNull();
  });
});

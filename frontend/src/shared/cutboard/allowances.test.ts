import { describe, expect, it } from "vitest";
import { allowanceWords, showAllowance } from "./allowances";

describe("allowances", () => {
  it("read as on a tape, to the thirty-second, and say what stays inside", () => {
    const words = [
      { edge: "top", name: "micro edge", mm: -0.8, at: null },
      { edge: "left", name: "behind the seal", mm: 3.175, at: null },
      { edge: "right", name: "behind the seal", mm: 3.175, at: null },
      { edge: "bottom", name: "the good edge", mm: 0, at: null },
    ];
    expect(words.map((one) => showAllowance(one, "in"))).toEqual([
      "1/32 in inside, micro edge",
      "1/8 in, behind the seal",
      "1/8 in, behind the seal",
      "the good edge",
    ]);
    expect(allowanceWords(words, "mm")).toBe(
      "top 0.8 mm inside, micro edge; left, right 3.2 mm, behind the seal; bottom the good edge",
    );
  });
});

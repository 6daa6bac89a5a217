import { describe, expect, it } from "vitest";
import type { Flaw, LookWindow } from "../look";
import { decisionWords, drawnAt, nextLook, touchedAt, worstFirst } from "./look";

const flaw = (over: Partial<Flaw>): Flaw =>
  ({
    id: "a",
    decision: "touch_up",
    closed: "",
    settled: false,
    redo_open: false,
    asks_owner: false,
    accepted_by: "",
    ...over,
  }) as Flaw;

describe("a touch on the drawing", () => {
  it("lies on the glass as it is seen from outside, whichever side one stands on", () => {
    expect(touchedAt(0.2, 0.1, "outside")).toEqual({ x: 0.2, y: 0.9 });
    expect(touchedAt(0.2, 0.1, "inside")).toEqual({ x: 0.8, y: 0.9 });
    expect(touchedAt(-1, 7, "outside")).toEqual({ x: 0, y: 0 });
  });
  it("comes back to where it was touched", () => {
    for (const side of ["outside", "inside"] as const) {
      const [across, down] = drawnAt(touchedAt(0.31, 0.77, side), side);
      expect(across).toBeCloseTo(0.31);
      expect(down).toBeCloseTo(0.77);
    }
  });
});

describe("flaws of a window", () => {
  it("stand worst first, settled and closed ones last", () => {
    const list = [
      flaw({ id: "gone", closed: "gone", settled: true }),
      flaw({ id: "kept", decision: "keep", settled: true }),
      flaw({ id: "touch" }),
      flaw({ id: "redo", decision: "redo" }),
    ];
    expect(worstFirst(list).map((one) => one.id)).toEqual(["redo", "touch", "kept", "gone"]);
  });
  it("say what becomes of them", () => {
    expect(decisionWords(flaw({ decision: "keep", asks_owner: true }))).toBe("Ask the owner");
    expect(decisionWords(flaw({ decision: "keep", accepted_by: "R. Alder" }))).toBe(
      "Kept, R. Alder accepts it",
    );
    expect(decisionWords(flaw({ decision: "redo", redo_open: true }))).toBe("Redo: being cut again");
  });
});

describe("the two looks", () => {
  it("come one after the other", () => {
    expect(nextLook({ leaving: null, final: null } as LookWindow)).toBe("leaving");
    expect(nextLook({ leaving: { id: "x" }, final: null } as LookWindow)).toBe("final");
  });
});

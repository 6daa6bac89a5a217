import { describe, expect, it } from "vitest";
import { answered, answerWords, byGroup, findingOf, maySettle, minutesOf, touched } from "./survey";

const condition = findingOf("condition");
const seals = findingOf("side_seals");

describe("findings", () => {
  it("are grouped by where one looks, in the order they are asked", () => {
    expect(byGroup(["condition", "sticker", "side_seals", "latch"]).map(([group]) => group)).toEqual([
      "glass",
      "on_it",
      "round_it",
    ]);
  });
  it("say nothing of what the core does not declare", () => {
    expect(byGroup(["no_such_finding"])).toEqual([]);
  });
  it("take a choice back when it is touched again", () => {
    if (!seals) throw new Error("declared by the core");
    expect(touched(seals, undefined, "worn")).toBe("worn");
    expect(touched(seals, "worn", "worn")).toBeNull();
    expect(touched(seals, "worn", "dirty")).toBe("dirty");
  });
  it("let sound stand alone among several", () => {
    if (!condition) throw new Error("declared by the core");
    expect(touched(condition, undefined, "sound")).toEqual(["sound"]);
    expect(touched(condition, ["sound"], "chipped")).toEqual(["chipped"]);
    expect(touched(condition, ["chipped"], "pitted")).toEqual(["chipped", "pitted"]);
    expect(touched(condition, ["chipped", "pitted"], "sound")).toEqual(["sound"]);
    expect(touched(condition, ["chipped"], "chipped")).toBeNull();
    expect(answerWords(condition, ["chipped", "pitted"])).toBe("chipped, pitted outside");
  });
});

describe("the window", () => {
  it("counts what is answered of what is asked", () => {
    expect(
      answered({ findings: { side_seals: "worn", wiper: "off" }, findings_asked: ["side_seals", "latch"] }),
    ).toBe(1);
  });
  it("adds the minutes up", () => {
    expect(minutesOf([{ minutes: 4 }, { minutes: 0 }, { minutes: 2.5 }])).toBe(6.5);
  });
  it("is left only when its readings close or somebody stands by them", () => {
    const fit = (closing: string) => ({ pane: { fit: { closing } }, readings_kept: false }) as never;
    expect(maySettle({ pane: { fit: null }, readings_kept: false } as never)).toBe(true);
    expect(maySettle(fit("closes"))).toBe(true);
    expect(maySettle(fit("amber"))).toBe(false);
    expect(maySettle({ pane: { fit: { closing: "amber" } }, readings_kept: true } as never)).toBe(true);
  });
});

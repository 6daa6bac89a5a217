import type { CarLook, Flaw, LookWindow } from "../look";

export type Side = "outside" | "inside";

/** A place on the pane as it is drawn: seen from inside it is mirrored, and down is down. */
export function drawnAt(flaw: Pick<Flaw, "x" | "y">, side: Side): [number, number] {
  return [side === "inside" ? 1 - flaw.x : flaw.x, 1 - flaw.y];
}

/** Where on the glass, seen from outside, a touch on the drawing is; kept on the glass. */
export function touchedAt(across: number, down: number, side: Side): { x: number; y: number } {
  const kept = (share: number) => Math.min(Math.max(share, 0), 1);
  const x = kept(across);
  return { x: round(side === "inside" ? 1 - x : x), y: round(1 - kept(down)) };
}

const round = (share: number) => Math.round(share * 10_000) / 10_000;

/** What is done next on a window: its flaws first, worst first, then what nobody looked at. */
export function worstFirst(flaws: readonly Flaw[]): Flaw[] {
  const rank = (one: Flaw) =>
    one.closed !== "" ? 4 : one.settled ? 3 : { redo: 0, touch_up: 1, keep: 2 }[one.decision];
  return [...flaws].sort((a, b) => rank(a) - rank(b));
}

/** Which of the two looks a touch on “clean” is: before leaving the window, then at the end. */
export function nextLook(window: LookWindow): "leaving" | "final" {
  return window.leaving === null && window.final === null ? "leaving" : "final";
}

/** How a flaw's decision is said, in one word, with what is still missing. */
export function decisionWords(flaw: Flaw): string {
  if (flaw.closed === "gone") return "gone";
  if (flaw.closed === "redone") return "gone with its piece";
  if (flaw.redo_open) return "Redo: being cut again";
  if (flaw.decision === "keep" && flaw.asks_owner && !flaw.accepted_by) return "Ask the owner";
  if (flaw.decision === "keep") return flaw.accepted_by ? `Kept, ${flaw.accepted_by} accepts it` : "Keep";
  return flaw.decision === "redo" ? "Redo" : "Touch up";
}

/** The tone of a window's answer. */
export function toneOfLook(window: LookWindow): "good" | "bad" | "open" {
  if (window.answer.startsWith("Redo")) return "bad";
  return window.final !== null && window.flaws.every((one) => one.settled) ? "good" : "open";
}

/** The standard in sentences, as the car is judged by it. */
export function standardWords(car: CarLook): string[] {
  const words = Object.fromEntries(car.kinds.map((one) => [one.id, one.words]));
  const zones = { view: "in view", edge: "at the edge", hidden: "where it is hidden" } as const;
  return car.standard.rules.map((rule) =>
    rule.most === 0
      ? `No ${words[rule.kind] ?? rule.kind} ${zones[rule.zone]}`
      : `Up to ${String(rule.most)} ${words[rule.kind] ?? rule.kind} of ${String(rule.mm)} mm ${zones[rule.zone]}`,
  );
}

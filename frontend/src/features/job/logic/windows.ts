import type { JobWindow } from "../../../api/client";
import { READING_LABELS } from "../../../api/words";

/** A reading's name at the head of its field. */
export function readingLabel(key: string): string {
  return (READING_LABELS as Record<string, string>)[key] ?? key.replace(/_/g, " ");
}

/** Further readings on file that the pane's level does not ask for. */
export function furtherReadings(window: Pick<JobWindow, "readings" | "pane">): string[] {
  const extra = new Set(window.pane.lines.filter((line) => line.kind === "extra").map((line) => line.key));
  return Object.keys(window.readings).filter((key) => extra.has(key));
}

type Placed = Pick<JobWindow, "id" | "position" | "side" | "kind" | "same_as_id" | "film_id">;

/**
 * The pane or panes on the other side of the car that a film goes on together with this one: its
 * mirror image where one is said, else the same kind of pane at the same position.
 */
export function otherSide<W extends Placed>(window: W, all: readonly W[]): W[] {
  if (window.side === "centre") return [];
  const across = all.filter((one) => one.side !== "centre" && one.side !== window.side);
  const said = across.filter((one) => one.same_as_id === window.id || one.id === window.same_as_id);
  if (said.length) return said;
  return across.filter((one) => one.position === window.position && one.kind === window.kind);
}

/** What the two sides together are called. */
export function pairWords(position: JobWindow["position"]): string {
  if (position === "front_side") return "Both fronts";
  return position === "rear_side" ? "Both rears" : "Both sides";
}

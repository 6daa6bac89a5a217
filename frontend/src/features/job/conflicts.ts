import { useSyncExternalStore } from "react";
import type { Clash } from "./logic/conflict";

/** A write that met another one: what clashes, and how to go on once somebody has chosen. */
export interface Conflict {
  clashes: Clash[];
  /** Sends mine again without the fields where theirs is kept. */
  settle: (theirs: ReadonlySet<string>) => void;
}

let waiting: Conflict[] = [];
const listeners = new Set<() => void>();

function tell(next: Conflict[]): void {
  waiting = next;
  for (const listener of listeners) listener();
}

export function raiseConflict(conflict: Conflict): void {
  tell([...waiting, conflict]);
}

export function endConflict(conflict: Conflict): void {
  tell(waiting.filter((one) => one !== conflict));
}

/** The oldest conflict that nobody has settled. */
export function useConflict(): Conflict | undefined {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => waiting[0],
  );
}

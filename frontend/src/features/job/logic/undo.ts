import type { JobWindow, Schemas } from "../../../api/client";
import { readingLabel } from "./windows";

type Readings = NonNullable<Schemas["WindowPatch"]["readings"]>;

/** What puts readings back as they were, and what that is called. */
export interface Undo {
  readings: Readings;
  words: string;
}

/** What the readings that are about to change say now; nothing where none changes. */
export function beforeOf(
  window: Pick<JobWindow, "readings">,
  changed: Readings | null | undefined,
): Undo | null {
  const keys = Object.keys(changed ?? {});
  if (keys.length === 0) return null;
  const readings: Readings = Object.fromEntries(
    keys.map((key) => {
      const was = window.readings[key];
      return [key, was ? { typed: was.typed, mode: was.mode } : null];
    }),
  );
  const words = keys.map((key) => `${readingLabel(key)} ${window.readings[key]?.typed ?? "not read"}`);
  return { readings, words: words.join(", ") };
}

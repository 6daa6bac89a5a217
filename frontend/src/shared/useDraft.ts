import { useState } from "react";
import { drafted, stillTyped } from "./logic/draft";

/**
 * What somebody types over what is saved, until it is kept. A field that he touched stays as he typed it, whatever
 * others save meanwhile or the server refuses; one that he did not touch follows what is saved.
 *
 * `kept` says that these fields are saved; what was typed since then stays.
 */
export function useDraft<Fields extends object>(saved: Fields) {
  const [typed, setTyped] = useState<Partial<Fields>>({});
  return {
    fields: drafted(saved, typed),
    set: (part: Partial<Fields>) => setTyped((before) => ({ ...before, ...part })),
    kept: (sent: Fields) => setTyped((before) => stillTyped(before, sent)),
  };
}

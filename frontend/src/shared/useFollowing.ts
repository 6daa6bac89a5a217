import { useState } from "react";
import { following, followed } from "./logic/following";

/**
 * Text being typed. It follows what is saved, except while somebody types: an answer that arrives then,
 * of an earlier change or of someone else's, does not take the words out of the field. `given` says that
 * the typing was handed on to be saved.
 */
export function useFollowing(saved: string): [string, (text: string) => void, () => void] {
  const [state, setState] = useState(following(saved));
  const now = followed(state, saved);
  if (now !== state) setState(now);
  return [
    now.text,
    (text) => {
      setState({ text, basis: saved, typing: text !== saved });
    },
    () => {
      setState((before) => ({ ...before, typing: false }));
    },
  ];
}

import { useState } from "react";

/** Text being typed that follows what is saved, until something else is typed. */
export function useFollowing(saved: string): [string, (text: string) => void] {
  const [state, setState] = useState({ text: saved, basis: saved });
  if (state.basis !== saved) setState({ text: saved, basis: saved });
  return [
    state.basis === saved ? state.text : saved,
    (text) => {
      setState({ text, basis: saved });
    },
  ];
}

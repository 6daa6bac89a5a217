/** Text in a field, the saved text it last saw, and whether something was typed that is not handed on yet. */
export interface Following {
  text: string;
  basis: string;
  typing: boolean;
}

export const following = (saved: string): Following => ({ text: saved, basis: saved, typing: false });

/** The field after it saw what is saved now: the same object where nothing changed. */
export function followed(state: Following, saved: string): Following {
  if (state.basis === saved) return state;
  return state.typing && state.text !== saved ? { ...state, basis: saved } : following(saved);
}

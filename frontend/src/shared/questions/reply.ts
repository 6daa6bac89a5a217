import type { Question, Schemas } from "../../api/client";

/** What an answer changes, wherever it is kept: on a job, or for one look at the counter. */
export interface Reply {
  car?: Partial<Omit<Schemas["JobPatch"], "version">>;
  window?: Omit<Schemas["WindowPatch"], "version">;
  film?: Partial<Schemas["FilmFields"]>;
  /** A position of which nobody had listed a pane: none there, or one that passes so much. */
  glass?: { there: boolean; percent?: number; filmed?: boolean };
}

/** A number as typed, or why it is none. */
export function numberOf(text: string, low: number, high: number): { value?: number; wrong?: string } {
  const plain = text.replace("%", "").trim();
  if (plain === "") return {};
  const value = Number(plain);
  if (Number.isNaN(value)) return { wrong: "A number, such as 35" };
  return value < low || value > high ? { wrong: `From ${low} to ${high}` } : { value };
}

/** A question's own key: the same one is asked once, however many states or windows raise it. */
export function questionKey(question: Question): string {
  const { asks, window_id, position, law_field, film_id, fact } = question;
  return [asks, window_id, position ?? "", law_field, film_id, fact].join("-");
}

/** Each question once, in the order in which they were first asked. */
export function onlyOnce<Asked>(asked: readonly Asked[], of: (one: Asked) => Question): Asked[] {
  const seen = new Set<string>();
  return asked.filter((one) => {
    const key = questionKey(of(one));
    if (seen.has(key)) return false;
    seen.add(key);
    return true;
  });
}

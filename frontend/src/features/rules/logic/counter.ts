import type { Question, Schemas } from "../../../api/client";
import type { Reply } from "../../../shared";

export type Case = Schemas["LookUpIn"];
type Glass = NonNullable<Case["others"]>[number];

export const NOTHING_SAID: Pick<Case, "car" | "film" | "others"> = { car: {}, film: {}, others: [] };

const OTHER = "other-";

/** The case with an answer put in: of the car, the film, this window, or glass elsewhere on the car. */
export function answered(of: Case, question: Question, reply: Reply): Case {
  if (reply.car) return { ...of, car: { ...of.car, ...(reply.car as Case["car"]) } };
  if (reply.film) return { ...of, film: { ...of.film, ...reply.film } };
  if (reply.glass && question.position) {
    const { there, percent, filmed = false } = reply.glass;
    const read = percent === undefined ? {} : { bare_readings_percent: [percent] };
    return {
      ...of,
      others: withGlass(of.others ?? [], { position: question.position, there, filmed, ...read }),
    };
  }
  const facts = reply.window;
  if (!facts) return of;
  if (!question.window_id.startsWith(OTHER)) return { ...of, window: windowWith(of.window, facts) };
  const position = question.window_id.slice(OTHER.length) as Glass["position"];
  const before = (of.others ?? []).find((one) => one.position === position);
  return { ...of, others: withGlass(of.others ?? [], { ...before, ...windowWith({}, facts), position }) };
}

function windowWith(before: Case["window"], facts: NonNullable<Reply["window"]>): Case["window"] {
  const { readings, ...rest } = facts;
  const typed = Object.fromEntries(
    Object.entries(readings ?? {}).map(([key, reading]) => [key, reading?.typed ?? ""]),
  );
  return { ...before, ...(rest as Case["window"]), readings: { ...before.readings, ...typed } };
}

function withGlass(others: readonly Glass[], one: Glass): Glass[] {
  return [...others.filter((other) => other.position !== one.position), one];
}

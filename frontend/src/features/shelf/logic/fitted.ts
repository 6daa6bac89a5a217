import type { Schemas } from "../../../api/client";

/** How a piece fitted, in a sentence. */
export function fittedWords(fitted: Pick<Schemas["FittedPart"], "word" | "edge" | "by" | "person">): string {
  const who = fitted.person ? `, says ${fitted.person}` : "";
  if (fitted.word === "right") return `Fitted right${who}`;
  const where = fitted.edge ? ` at the ${fitted.edge.replace(/_/g, " ")}` : "";
  const by = fitted.by ? ` by ${fitted.by}` : "";
  return `Came out ${fitted.word}${by}${where}${who}`;
}

const CORNERS = { three: 3, four: 4, five: 5, six: 6, seven: 7, eight: 8, drawn: 0 } as const;

/** How many corners of a pane are read. */
export function cornersOf(figure: keyof typeof CORNERS): number {
  return CORNERS[figure];
}

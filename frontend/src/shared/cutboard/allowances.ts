import type { FilmPlan } from "../../api/client";
import { showLength, type LengthUnit } from "../logic/format";

type Allowance = FilmPlan["pieces"][number]["allowances"][number];

/** “1/8 in behind the seal”; what stays inside of the edge reads so. */
export function showAllowance(one: Allowance, unit: LengthUnit): string {
  if (Math.abs(one.mm) < 0.05) return one.name;
  const inside = one.mm < 0 ? " inside" : "";
  return `${fine(Math.abs(one.mm), unit)}${inside}, ${one.name}`;
}

/** Allowances are finer than the ruler: a thirty-second is one. */
function fine(mm: number, unit: LengthUnit): string {
  if (unit === "mm") return `${mm.toFixed(1)} mm`;
  const thirtySeconds = Math.round((mm / 25.4) * 32);
  return thirtySeconds % 2 === 0 ? showLength(mm, unit) : `${String(thirtySeconds)}/32 in`;
}

/** All of a piece's allowances in one line, edges that are alike together. */
export function allowanceWords(allowances: readonly Allowance[], unit: LengthUnit): string {
  const edges = new Map<string, string[]>();
  for (const one of allowances) {
    const words = showAllowance(one, unit);
    edges.set(words, [...(edges.get(words) ?? []), one.edge]);
  }
  return [...edges].map(([words, where]) => `${where.join(", ")} ${words}`).join("; ");
}

import type { FilmPlan } from "../../api/client";

type Stock = FilmPlan["stocks"][number];

/** Lengths that are pulled off a roll one after another: each full-width cut frees one. */
export function pullsOf(
  plan: Pick<FilmPlan, "cuts">,
  stock: Pick<Stock, "id" | "kind" | "used_mm">,
): number[] {
  if (stock.kind !== "roll") return [stock.used_mm];
  const pulls = plan.cuts
    .filter((cut) => cut.stock_id === stock.id && cut.kind === "across_roll")
    .map((cut) => cut.at_mm);
  return pulls.length > 1 ? pulls : [stock.used_mm];
}

/** What to pull or take, two pulls told as two. */
export function pullWords(
  plan: Pick<FilmPlan, "cuts">,
  stock: Pick<Stock, "id" | "kind" | "used_mm" | "label">,
  show: (mm: number) => string,
): string {
  const pulls = pullsOf(plan, stock);
  if (stock.kind !== "roll") return `take ${show(stock.used_mm)} of ${stock.label}`;
  return `pull ${pulls.map(show).join(", then ")} from ${stock.label}`;
}

/** A length that does; where nobody knows that less does not, it says so. */
export function sure(
  one: { readonly at_least_mm: number } | undefined,
  does: number,
  length: (mm: number) => string,
): string {
  const least = one?.at_least_mm ?? does;
  if (least >= does) return length(does);
  return least > 0 ? `${length(does)} (at least ${length(least)})` : `${length(does)} or less`;
}

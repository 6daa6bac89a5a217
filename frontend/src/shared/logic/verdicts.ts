import type { Verdict } from "../../api/client";
import { VERDICT_WORDS } from "../../api/words";

/** States' answers, the one that binds first: the worst word, and of the same words the least margin. */
export function bindingFirst(verdicts: readonly Verdict[]): Verdict[] {
  const rank = (verdict: Verdict) => VERDICT_WORDS.indexOf(verdict.word);
  const margin = (verdict: Verdict) => verdict.margin_points ?? 100;
  return [...verdicts].sort((one, other) => rank(one) - rank(other) || margin(one) - margin(other));
}

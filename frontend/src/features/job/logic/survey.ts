import type { Job, JobWindow } from "../../../api/client";
import { CAR_FINDINGS, WINDOW_FINDINGS } from "../../../api/words";

export interface Finding {
  readonly name: string;
  readonly label: string;
  readonly group: string;
  readonly how: "choice" | "several" | "length" | "number" | "text";
  readonly options: Readonly<Record<string, string>>;
}
export type Answer = string | readonly string[];
export type Answers = Readonly<Record<string, Answer>>;

const ALL: readonly Finding[] = [...WINDOW_FINDINGS, ...CAR_FINDINGS] as readonly Finding[];
const BY_NAME = new Map(ALL.map((one) => [one.name, one]));

/** A finding by its name; none for what the core does not declare. */
export function findingOf(name: string): Finding | undefined {
  return BY_NAME.get(name);
}

/** Findings that are asked, by where one looks, in the order one looks. */
export function byGroup(asked: readonly string[]): [string, Finding[]][] {
  const groups = new Map<string, Finding[]>();
  for (const name of asked) {
    const found = findingOf(name);
    if (found) groups.set(found.group, [...(groups.get(found.group) ?? []), found]);
  }
  return [...groups.entries()];
}

/** An answer in words. */
export function answerWords(finding: Finding, answer: Answer): string {
  const given = typeof answer === "string" ? [answer] : answer;
  return given.map((one) => finding.options[one] ?? one).join(", ");
}

/** A touch on a choice: picks it, or takes it back where it was picked; "sound" stands alone. */
export function touched(finding: Finding, before: Answer | undefined, option: string): Answer | null {
  if (finding.how !== "several") return before === option ? null : option;
  const had = Array.isArray(before) ? (before as readonly string[]) : [];
  if (had.includes(option)) {
    const left = had.filter((one) => one !== option);
    return left.length ? left : null;
  }
  const first = Object.keys(finding.options)[0];
  return option === first ? [option] : [...had.filter((one) => one !== first), option];
}

/** How many of the findings asked here are answered. */
export function answered(window: Pick<JobWindow, "findings" | "findings_asked">): number {
  return window.findings_asked.filter((name) => name in window.findings).length;
}

/** Minutes that what was found adds. */
export function minutesOf(follows: readonly { minutes: number }[]): number {
  return follows.reduce((sum, one) => sum + one.minutes, 0);
}

/** Readings to look at again: the culprit, two that look swapped, else the likeliest one. */
export function suspects(window: Pick<JobWindow, "pane" | "readings_kept">): string[] {
  const { fit } = window.pane;
  if (!fit || fit.closing === "closes" || window.readings_kept) return [];
  if (fit.swapped.length > 0) return [...fit.swapped];
  if (fit.culprit) return [fit.culprit.key];
  return fit.read_crowns ? [] : fit.changes.slice(0, 1).map((one) => one.key);
}

/** Whether the readings let one go on: they close, or somebody stands by them. */
export function maySettle(window: Pick<JobWindow, "pane" | "readings_kept">): boolean {
  const fit = window.pane.fit;
  return fit === null || fit.closing === "closes" || window.readings_kept;
}

/** Why a survey cannot be changed any more, and what would let it; null while it can. */
export function keptAsItWas(job: Pick<Job, "status">): string | null {
  return job.status === "delivered"
    ? "Delivered: this is how it was read. To correct it, a lead goes back one step, with a reason."
    : null;
}

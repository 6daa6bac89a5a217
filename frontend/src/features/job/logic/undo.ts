import type { JobWindow, Schemas } from "../../../api/client";
import { ASKED_FACTS } from "../../../api/words";
import { findingOf } from "./survey";
import { readingLabel } from "./windows";

type Changed = Pick<Schemas["WindowPatch"], "readings" | "findings">;

/** What puts readings and findings back as they were, and what that is called. */
export interface Undo {
  change: Changed;
  words: string;
}

/** What the readings and findings that are about to change say now; nothing where none changes. */
export function beforeOf(window: Pick<JobWindow, "readings" | "findings">, changed: Changed): Undo | null {
  const readings = Object.keys(changed.readings ?? {});
  const findings = Object.keys(changed.findings ?? {});
  if (readings.length + findings.length === 0) return null;
  const words = [
    ...readings.map((key) => `${readingLabel(key)} ${window.readings[key]?.typed ?? "not read"}`),
    ...findings.map((name) => `${findingOf(name)?.label ?? name} ${answerOf(window, name)}`),
  ];
  return {
    change: {
      ...(readings.length
        ? { readings: Object.fromEntries(readings.map((key) => [key, readingOf(window, key)])) }
        : {}),
      ...(findings.length
        ? { findings: Object.fromEntries(findings.map((name) => [name, window.findings[name] ?? null])) }
        : {}),
    },
    words: words.length > 2 ? `${words.length} answers` : words.join(", "),
  };
}

function readingOf(window: Pick<JobWindow, "readings">, key: string) {
  const was = window.readings[key];
  return was ? { typed: was.typed, mode: was.mode } : null;
}

function answerOf(window: Pick<JobWindow, "findings">, name: string): string {
  const answer = window.findings[name];
  const finding = findingOf(name);
  if (answer === undefined || !finding) return "open";
  return (typeof answer === "string" ? [answer] : answer)
    .map((one) => finding.options[one] ?? one)
    .join(", ");
}

type Answered = Pick<JobWindow, "findings" | (typeof ASKED_FACTS)[number]["name"]>;

/** What puts a window's answers back as they were before several changed at once. */
export function answersBefore(before: Answered, after: Answered): Omit<Schemas["WindowPatch"], "version"> {
  const findings = Object.keys({ ...before.findings, ...after.findings })
    .filter((name) => JSON.stringify(before.findings[name]) !== JSON.stringify(after.findings[name]))
    .map((name) => [name, before.findings[name] ?? null] as const);
  const facts = ASKED_FACTS.map((fact) => fact.name)
    .filter((name) => before[name] !== after[name])
    .map((name) => [name, before[name]] as const);
  return { ...Object.fromEntries(facts), findings: Object.fromEntries(findings) };
}

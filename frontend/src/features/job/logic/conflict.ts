import type { Schemas } from "../../../api/client";

type Changed = Schemas["ChangedFieldBody"];

/** One field that two people changed: what each of them wants it to be. */
export interface Clash {
  field: string;
  mine: unknown;
  theirs: unknown;
  personId: string;
  at: string;
}

type Fields = Record<string, unknown>;

/**
 * Fields that both changed to something else. A tape reading clashes only with the same reading;
 * what only one of them touched is no clash, and both can be kept.
 */
export function clashes(mine: Fields, changed: readonly Changed[]): Clash[] {
  const found: Clash[] = [];
  for (const { field, now, person_id, at } of changed) {
    if (!(field in mine)) continue;
    const told = { personId: person_id, at };
    if (field === "readings") {
      const theirs = (now ?? {}) as Fields;
      for (const [key, value] of Object.entries(mine[field] as Fields))
        if (typedOf(value) !== typedOf(theirs[key]))
          found.push({ field: `readings.${key}`, mine: value, theirs: theirs[key] ?? null, ...told });
    } else if (JSON.stringify(mine[field]) !== JSON.stringify(now))
      found.push({ field, mine: mine[field], theirs: now, ...told });
  }
  return found;
}

/** What is sent once somebody has chosen: my fields without those where theirs is kept. */
export function settled(mine: Fields, theirs: ReadonlySet<string>): Fields {
  const kept: Fields = {};
  for (const [field, value] of Object.entries(mine)) {
    if (theirs.has(field)) continue;
    if (field !== "readings") kept[field] = value;
    else {
      const readings = Object.entries(value as Fields).filter(([key]) => !theirs.has(`readings.${key}`));
      if (readings.length) kept[field] = Object.fromEntries(readings);
    }
  }
  return kept;
}

function typedOf(reading: unknown): string {
  return (reading as { typed?: string } | null | undefined)?.typed ?? "";
}

/** A value as a person reads it. */
export function told(value: unknown): string {
  if (value === null || value === undefined || value === "") return "nothing";
  if (Array.isArray(value)) return value.length ? value.map(told).join(", ") : "nothing";
  switch (typeof value) {
    case "boolean":
      return value ? "yes" : "no";
    case "string":
      return value.replaceAll("_", " ");
    case "number":
      return String(value);
    default:
      return typedOf(value) || JSON.stringify(value);
  }
}

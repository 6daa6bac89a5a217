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

/** Changed key by key, and told as `readings.top`: each is a field of its own. */
const BY_KEY = ["readings", "findings"];

/**
 * Fields that both changed to something else. A reading or finding clashes only with the same one;
 * what only one of them touched is no clash, and both can be kept.
 */
export function clashes(mine: Fields, changed: readonly Changed[]): Clash[] {
  const found: Clash[] = [];
  const flat = byField(mine);
  for (const { field, now, person_id, at } of changed) {
    const own = flat.get(field);
    if (own === undefined || same(own, now)) continue;
    found.push({ field, mine: own, theirs: now ?? null, personId: person_id, at });
  }
  return found;
}

function byField(fields: Fields): Map<string, unknown> {
  return new Map(
    Object.entries(fields).flatMap(([field, value]): [string, unknown][] =>
      BY_KEY.includes(field)
        ? Object.entries((value ?? {}) as Fields).map(([key, one]) => [`${field}.${key}`, one])
        : [[field, value]],
    ),
  );
}

function same(mine: unknown, theirs: unknown): boolean {
  const [one, other] = [typedOf(mine), typedOf(theirs)];
  if (one || other) return one === other;
  return JSON.stringify(mine ?? null) === JSON.stringify(theirs ?? null);
}

/** What is sent once somebody has chosen: my fields without those where theirs is kept. */
export function settled(mine: Fields, theirs: ReadonlySet<string>): Fields {
  const kept: Fields = {};
  for (const [field, value] of Object.entries(mine)) {
    if (theirs.has(field)) continue;
    if (!BY_KEY.includes(field)) kept[field] = value;
    else {
      const mineOnly = Object.entries(value as Fields).filter(([key]) => !theirs.has(`${field}.${key}`));
      if (mineOnly.length) kept[field] = Object.fromEntries(mineOnly);
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

import type { RuleField } from "../api";

const DECIDING: readonly RuleField["group"][] = [
  "light",
  "windshield",
  "linked",
  "reading",
  "reflection",
  "colour",
  "mirrors",
];

/** Fields in the order in which they are worth reading: what decides first, unconfirmed before the rest. */
export function decidingFirst(fields: readonly RuleField[]): RuleField[] {
  const rank = (field: RuleField) => {
    const at = DECIDING.indexOf(field.group);
    return at < 0 ? DECIDING.length : at;
  };
  return fields
    .filter((field) => field.path !== "works_inside_tolerance")
    .sort((one, other) => Number(other.unconfirmed) - Number(one.unconfirmed) || rank(one) - rank(other));
}

import { expect, test } from "vitest";
import type { RuleField } from "../api";
import { decidingFirst } from "./confirm";

const field = (path: string, group: RuleField["group"], unconfirmed: boolean) =>
  ({ path, group, unconfirmed }) as RuleField;

test("what decides and nobody confirmed is read first; the shop's own setting is no field of the law", () => {
  const fields = [
    field("statute", "source", true),
    field("passenger.front_side", "light", false),
    field("clauses.XX.fronts", "linked", true),
    field("banned_colours", "colour", true),
    field("passenger.rear_side", "light", true),
    field("works_inside_tolerance", "light", false),
    field("sticker_or_label", "papers", false),
  ];
  expect(decidingFirst(fields).map((one) => one.path)).toEqual([
    "passenger.rear_side",
    "clauses.XX.fronts",
    "banned_colours",
    "statute",
    "passenger.front_side",
    "sticker_or_label",
  ]);
});

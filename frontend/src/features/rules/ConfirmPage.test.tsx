import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { refused, session, shown, type Answers } from "../../test/shown";
import type { Rule, RuleField } from "./api";
import { ConfirmPage } from "./ConfirmPage";

const field = (path: string, label: string, value: number, more: Partial<RuleField> = {}): RuleField => ({
  path,
  label,
  group: "light",
  vehicle_class: null,
  position: null,
  value,
  words: `${String(value)} %`,
  unconfirmed: true,
  disputed: [],
  source: null,
  ...more,
});
const said = (word_id: string, person = "Mara Quist"): RuleField["source"] => ({
  word_id,
  overruled: true,
  citation: "§ 12.3",
  effective_from: "",
  effective_until: "",
  person,
  at: "2026-11-01",
});
const rule = (...fields: RuleField[]): Rule => ({
  code: "ZZ",
  name: "Zephyria",
  statute: "§ 12 of the made-up code",
  effective_from: "",
  confidence: "low",
  version: "3",
  compiled: "2026-10-01",
  confirmed_on: "",
  stale: false,
  day: "2026-11-27",
  fields,
  linked: [],
  strips: [],
  notes: [],
  history: [],
  upcoming: [],
});
const FRONT = field("front", "Front side", 35);
const REAR = field("rear", "Rear side", 20, { unconfirmed: false, source: said("w1") });
const COLOUR = field("colour", "Colours", 0, { group: "colour", words: "red banned" });

describe("a state read through in one sitting", () => {
  let answers: Answers;
  beforeEach(() => {
    answers = { "GET /api/session": session(), "GET /api/rules/ZZ": rule(COLOUR, REAR, FRONT) };
  });
  const page = () =>
    shown(<ConfirmPage />, answers, { at: "/rules/ZZ/confirm", path: "/rules/:code/confirm" });
  const tick = (label: string) => screen.getByRole("checkbox", { name: `${label} reads so` });

  it("begins with what decides and nobody has confirmed", async () => {
    page();
    expect(await screen.findByText("Zephyria: 2 fields to confirm")).toBeVisible();
    const rows = within(screen.getByRole("table")).getAllByRole("row").slice(1);
    expect(rows.map((row) => within(row).getAllByRole("cell")[1]?.textContent)).toEqual([
      "Front side",
      "Colours",
      "Rear side",
    ]);
  });

  it("confirms nothing without saying where it stands", async () => {
    const { user } = page();
    await user.click(await screen.findByRole("checkbox", { name: "Front side reads so" }));
    expect(screen.getByRole("button", { name: "Confirm 1 ticked" })).toBeDisabled();
    await user.type(screen.getByLabelText("Where it stands, for all that is ticked"), "p. 4");
    expect(screen.getByRole("button", { name: "Confirm 1 ticked" })).toBeEnabled();
  });

  it("sends what is ticked with the word that it takes the place of, and says that it is done", async () => {
    answers["POST /api/rules/ZZ/confirm"] = rule(
      COLOUR,
      REAR,
      field("front", "Front side", 35, { unconfirmed: false, source: said("w2", "Ines Varga") }),
    );
    const { user, written } = page();
    await user.click(await screen.findByRole("checkbox", { name: "Front side reads so" }));
    await user.click(tick("Rear side"));
    await user.type(screen.getByLabelText("Where it stands, for all that is ticked"), "p. 4");
    await user.click(screen.getByRole("button", { name: "Confirm 2 ticked" }));
    expect(await screen.findByText("2 fields of Zephyria confirmed.")).toBeVisible();
    expect(written[0]?.body).toEqual({
      citation: "p. 4",
      effective_from: "",
      sure: true,
      fields: [
        { field: "front", value: 35, replaces: null },
        { field: "rear", value: 20, replaces: "w1" },
      ],
    });
    expect(tick("Front side")).not.toBeChecked();
    expect(screen.getByText("Zephyria: 1 field to confirm")).toBeVisible();
  });

  it("confirms what was read, not what somebody else put there since", async () => {
    answers["POST /api/rules/ZZ/confirm"] = refused(
      422,
      "Front side: Mara Quist said 50 % meanwhile. Look again.",
    );
    const { user, written, client } = page();
    await user.click(await screen.findByRole("checkbox", { name: "Front side reads so" }));
    answers["GET /api/rules/ZZ"] = rule(
      COLOUR,
      REAR,
      field("front", "Front side", 50, { source: said("w9") }),
    );
    await client.invalidateQueries({ queryKey: ["rules"] });
    expect(await screen.findByText("50 %")).toBeVisible();
    await user.type(screen.getByLabelText("Where it stands, for all that is ticked"), "p. 4");
    await user.click(screen.getByRole("button", { name: "Confirm 1 ticked" }));
    expect(await screen.findByText("Front side: Mara Quist said 50 % meanwhile. Look again.")).toBeVisible();
    await waitFor(() => expect(written).toHaveLength(1));
    expect((written[0]?.body as { fields: object[] }).fields).toEqual([
      { field: "front", value: 35, replaces: null },
    ]);
    expect(tick("Front side")).toBeChecked();
  });

  it("says that the last look is long ago, and where all is confirmed", async () => {
    answers["GET /api/rules/ZZ"] = { ...rule(REAR), stale: true, confirmed_on: "2025-06-01" };
    page();
    expect(await screen.findByText("Zephyria is confirmed")).toBeVisible();
    expect(screen.getByText(/more than twelve months ago/)).toBeVisible();
    expect(screen.getByText("the shop’s own, Mara Quist, 2026-11-01")).toBeVisible();
  });
});

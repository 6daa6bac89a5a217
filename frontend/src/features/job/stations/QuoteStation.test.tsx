import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import type { Job } from "../../../api/client";
import { refused, session, shown, type Answers } from "../../../test/shown";
import type { Quote } from "../handover";
import { QuoteStation } from "./QuoteStation";

const job = { id: "j1", number: 1001, input_hash: "h1" } as Job;
const line = (
  key: string,
  words: string,
  dollars: number,
  kind: Quote["lines"][number]["kind"] = "film",
) => ({
  key,
  kind,
  words,
  dollars,
  window_id: "",
  why: kind === "extra" ? "a deep rain guard" : "",
});
const version = (
  number: number,
  more: Partial<Quote["versions"][number]> = {},
): Quote["versions"][number] => ({
  id: `q${String(number)}`,
  version: 1,
  number,
  called: `1001-${String(number)}`,
  valid_until: "2027-01-02",
  too_old: false,
  status: "offered",
  lines: [],
  total: 240,
  told: [],
  note: "",
  accepted_by: "",
  accepted_at: null,
  person: "Ines Varga",
  at: "2026-11-27T09:00:00Z",
  ...more,
});
const quote = (more: Partial<Quote> = {}): Quote => ({
  job_id: "j1",
  customer: "R. Vale",
  headline: "$259.80 as it stands, nothing offered yet",
  lines: [
    line("w1", "Driver front: Harbor 35, whole pane", 120),
    line("w2", "Passenger front: Harbor 35, whole pane", 120),
    line("tax", "Tax, 8.25 %", 19.8, "tax"),
  ],
  total: 259.8,
  own_lines: [],
  differs: [],
  change: "",
  starting_prices: false,
  ask_owner: false,
  versions: [],
  accepted: null,
  films: ["Harbor 35 keeps out 48 % of the sun’s heat."],
  caution: "",
  ...more,
});

describe("a quote", () => {
  let answers: Answers;
  beforeEach(() => {
    answers = { "GET /api/session": session(), "GET /api/jobs/j1/quote": quote() };
  });
  const station = () => shown(<QuoteStation job={job} />, answers);

  it("says how to begin where nothing is to be priced", async () => {
    answers["GET /api/jobs/j1/quote"] = quote({ headline: "Nothing to price yet", lines: [], films: [] });
    station();
    expect(await screen.findByText(/Choose films at Shade/)).toBeVisible();
    expect(screen.getByRole("link", { name: "Shade" })).toHaveAttribute("href", "/jobs/j1/shade");
    expect(screen.queryByRole("button", { name: "Offer this" })).toBeNull();
  });

  it("says why it cannot be shown, and tries again", async () => {
    answers["GET /api/jobs/j1/quote"] = refused(403, "Tobi Lund does not see prices here.", {}, "no_prices");
    const { user } = station();
    expect(await screen.findByText("Tobi Lund does not see prices here.")).toBeVisible();
    answers["GET /api/jobs/j1/quote"] = quote();
    await user.click(screen.getByRole("button", { name: /again/i }));
    expect(await screen.findByText(/\$259\.80 as it stands/)).toBeVisible();
  });

  it("offers with a line of one's own, which may take off", async () => {
    answers["POST /api/jobs/j1/quotes"] = quote({ versions: [version(1)] });
    const { user, written } = station();
    await user.type(await screen.findByLabelText("A line of your own"), " courtesy ");
    await user.type(screen.getByLabelText("$, minus takes off"), "five");
    expect(screen.getByRole("button", { name: "Add" })).toBeDisabled();
    await user.clear(screen.getByLabelText("$, minus takes off"));
    await user.type(screen.getByLabelText("$, minus takes off"), "-$5");
    await user.click(screen.getByRole("button", { name: "Add" }));
    expect(within(screen.getByRole("table", { name: "Lines" })).getByText("-$5.00")).toBeVisible();
    await user.type(screen.getByLabelText("Note on it"), "until Friday");
    await user.click(screen.getByRole("button", { name: "Offer this" }));
    await waitFor(() => expect(written).toHaveLength(1));
    expect(written[0]?.body).toEqual({
      own_lines: [{ words: "courtesy", dollars: -5 }],
      note: "until Friday",
    });
    await waitFor(() => expect(screen.getByLabelText("Note on it")).toHaveValue(""));
  });

  it("keeps lines and note that are being typed when somebody else offers meanwhile", async () => {
    const { user, client } = station();
    await user.type(await screen.findByLabelText("A line of your own"), "wash");
    await user.type(screen.getByLabelText("$, minus takes off"), "15");
    await user.click(screen.getByRole("button", { name: "Add" }));
    await user.type(screen.getByLabelText("A line of your own"), "polish");
    await user.type(screen.getByLabelText("Note on it"), "by phone");
    answers["GET /api/jobs/j1/quote"] = quote({ headline: "$259.80 offered", versions: [version(1)] });
    await client.invalidateQueries({ queryKey: ["quote"] });
    expect(await screen.findByText("$259.80 offered")).toBeVisible();
    expect(within(screen.getByRole("table", { name: "Lines" })).getByText(/wash/)).toBeVisible();
    expect(screen.getByLabelText("A line of your own")).toHaveValue("polish");
    expect(screen.getByLabelText("Note on it")).toHaveValue("by phone");
  });

  it("is accepted with the version that was shown, and says a refusal where it was signed", async () => {
    answers["GET /api/jobs/j1/quote"] = quote({
      versions: [version(2, { version: 3 }), version(1, { status: "replaced" })],
    });
    answers["POST /api/quotes/q2/accept"] = refused(409, "Version 3 was offered meanwhile. Look again.");
    const { user, written } = station();
    expect(await screen.findByText("Accept version 2, $240.00")).toBeVisible();
    expect(screen.getByLabelText("Name")).toHaveValue("R. Vale");
    await user.click(screen.getByRole("button", { name: "Said so" }));
    expect(await screen.findByText("Version 3 was offered meanwhile. Look again.")).toBeVisible();
    expect(written[0]?.body).toEqual({ version: 3, name: "R. Vale", how: "spoken", signature: [] });
  });

  it("tells what a later wish changes, and offers it as a version more", async () => {
    answers["GET /api/jobs/j1/quote"] = quote({
      headline: "Not as accepted: one change",
      versions: [version(1, { status: "accepted", accepted_by: "R. Vale" })],
      accepted: 1,
      differs: ["Front: Harbor 35 became Harbor 20, $60.00 to $70.00."],
      change: "$10.83 more, $0.83 of it tax",
    });
    station();
    expect(await screen.findByText("Version 2")).toBeVisible();
    expect(screen.getByText("Δ Front: Harbor 35 became Harbor 20, $60.00 to $70.00.")).toBeVisible();
    expect(screen.getByText("The change: $10.83 more, $0.83 of it tax.")).toBeVisible();
    expect(screen.getByText("1 · $240.00 · accepted by R. Vale")).toBeVisible();
    expect(screen.getByRole("button", { name: "Offer this" })).toBeEnabled();
    expect(screen.queryByText(/^Accept version/)).toBeNull();
  });

  it("offers nothing where nothing changed since", async () => {
    answers["GET /api/jobs/j1/quote"] = quote({
      versions: [version(1, { status: "accepted", accepted_by: "R. Vale" })],
      accepted: 1,
    });
    station();
    expect(await screen.findByText("Nothing changed since")).toBeVisible();
    expect(screen.getByRole("button", { name: "Offer this" })).toBeDisabled();
  });

  it("tells starting prices, and offers nothing before an owner’s yes", async () => {
    answers["GET /api/jobs/j1/quote"] = quote({ starting_prices: true, ask_owner: true });
    station();
    expect(await screen.findByText(/^Starting prices, not yours yet/)).toHaveTextContent(
      "before the first offer",
    );
    expect(screen.getByRole("link", { name: "Look at them" })).toHaveAttribute("href", "/shop/prices");
    expect(screen.getByRole("button", { name: "Offer this" })).toBeDisabled();
  });
});

import { screen, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { refused, session, shown, type Answers } from "../../test/shown";
import type { Ledger } from "./api";
import { LedgerPage } from "./LedgerPage";

const EMPTY: Ledger = {
  since: "2026-09-01",
  until: "2026-11-27",
  headline: "Nothing cut in these weeks",
  film: [],
  waste: [],
  yields: [],
  redo: { lines: [], by_flaw: [], by_kind: [], by_step: [], by_person: [], by_lot: [], pieces_cut: 0 },
  readings: [],
  cars: [],
  phases: [],
  money: [],
};
const BUSY: Ledger = {
  ...EMPTY,
  headline: "61.2 m² used, 9 % of it waste",
  film: [
    { week: "2026-09-07", bought: 0, used: 0, waste: 0 },
    { week: "2026-09-14", bought: 46.5, used: 12.25, waste: 1.5 },
    { week: "2026-09-21", bought: 0, used: 0, waste: 0 },
    { week: "2026-09-28", bought: 0, used: 8, waste: 0.25 },
    { week: "2026-10-05", bought: 0, used: 0, waste: 0 },
  ],
  waste: [{ reason: "creased at the lower corner", m2: 1.254, dollars: 16.4 }],
  yields: [
    {
      day: "2026-09-15",
      job_number: 1001,
      film: "Harbor 35",
      yield_percent: 78.04,
      over_bound_percent: null,
      proven: true,
    },
    {
      day: "2026-09-16",
      job_number: 1002,
      film: "Dusk 20",
      yield_percent: 71.5,
      over_bound_percent: 3.04,
      proven: false,
    },
  ],
  redo: {
    lines: [
      {
        day: "2026-09-16",
        job_number: 1002,
        window: "Driver front",
        window_kind: "framed door",
        why: "crease",
        step: "Press",
        lot: "H-77",
        person: "Tobi Lund",
      },
    ],
    by_flaw: [{ name: "crease", number: 1 }],
    by_kind: [{ name: "framed door", number: 1 }],
    by_step: [{ name: "Press", number: 1 }],
    by_person: [{ name: "Tobi Lund", number: 1 }],
    by_lot: [{ name: "H-77", number: 1 }],
    pieces_cut: 9,
  },
  readings: [
    {
      day: "2026-09-15",
      job_number: 1001,
      window: "Driver front",
      film: "Harbor 35",
      lot: "",
      predicted: 31.2,
      pm: 1.5,
      read: 33,
    },
  ],
  cars: [{ day: "2026-09-15", job_number: 1001, planned: 120, worked: 131.25 }],
  money: [{ week: "2026-09-14", billed: 259.8, film: 41.6, labour: 110 }],
};

describe("the ledger", () => {
  let answers: Answers;
  beforeEach(() => {
    answers = { "GET /api/session": session(), "GET /api/ledger": BUSY };
  });
  const page = (at = "/ledger") => shown(<LedgerPage />, answers, { at, path: "/ledger" });
  const cells = () =>
    within(screen.getByRole("table"))
      .getAllByRole("row")
      .slice(1)
      .map((row) =>
        within(row)
          .getAllByRole("cell")
          .map((cell) => cell.textContent),
      );

  it("begins and ends with a week in which something happened; quiet ones between stay", async () => {
    page();
    expect(await screen.findByText("61.2 m² used, 9 % of it waste")).toBeVisible();
    expect(screen.getByText("1 car handed over, 9 pieces cut, 2026-09-01 to 2026-11-27.")).toBeVisible();
    expect(cells()).toEqual([
      ["2026-09-14", "46.5", "12.3", "1.5"],
      ["2026-09-21", "0.0", "0.0", "0.0"],
      ["2026-09-28", "0.0", "8.0", "0.3"],
    ]);
  });

  it.each([
    ["Waste", [["creased at the lower corner", "1.25", "$16"]]],
    [
      "Yield",
      [
        ["2026-09-15", "1001", "Harbor 35", "78.0", "", "proven"],
        ["2026-09-16", "1002", "Dusk 20", "71.5", "3.0", "best found"],
      ],
    ],
    ["Redo", [["2026-09-16", "1002", "Driver front", "crease", "Press", "H-77", "Tobi Lund"]]],
    ["Readings", [["2026-09-15", "1001", "Driver front", "Harbor 35", "", "31.2 ± 1.5", "33.0"]]],
    ["Time", [["2026-09-15", "1001", "120.0", "131.3"]]],
    ["Money", [["2026-09-14", "$260", "$42", "$110"]]],
  ])("tells %s as a table, and as a file of the same days", async (name, rows) => {
    const { user, router } = page();
    await user.click(await screen.findByRole("button", { name }));
    expect(cells()).toEqual(rows);
    expect(router.state.location.search).toBe(`?table=${name.toLowerCase()}`);
    expect(screen.getByRole("link", { name: "CSV" })).toHaveAttribute(
      "href",
      `/api/ledger.csv?table=${name.toLowerCase()}&since=2026-09-01&until=2026-11-27`,
    );
  });

  it("does not blame who worked on a window", async () => {
    const { user } = page("/ledger?table=redo");
    expect(await screen.findByText("Pieces cut again")).toBeVisible();
    expect(screen.queryByText(/says nothing of why/)).toBeNull();
    await user.click(screen.getByRole("button", { name: "worked on by" }));
    expect(screen.getByText(/Who worked on the window says nothing of why/)).toBeVisible();
  });

  it("takes a part that there is not for the film", async () => {
    page("/ledger?table=toString");
    expect(await screen.findByText("Film by week, m²")).toBeVisible();
  });

  it("says that nothing happened, and what is wrong with days turned round", async () => {
    answers["GET /api/ledger"] = EMPTY;
    answers["GET /api/ledger?since=2026-11-01&until=2026-01-01"] = refused(422, "From is after To.", {
      since: "After the other day.",
    });
    const { router } = page();
    expect(await screen.findByText(/Nothing of this happened in these weeks/)).toBeVisible();
    await router.navigate("/ledger?since=2026-11-01&until=2026-01-01");
    expect(await screen.findByText("From is after To.")).toBeVisible();
  });
});

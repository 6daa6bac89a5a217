import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import type { Rack, Schemas } from "../../api/client";
import { LEAD, refused, session, shown, type Answers } from "../../test/shown";
import { item, type Item } from "../../test/stock";
import { RackPage } from "./RackPage";
import { StockPage } from "./StockPage";

const film = (id: string, name: string) => ({ id, name }) as Rack["films"][number];
const rack = (...stock: Item[]): Rack => ({ films: [film("f1", "Harbor 15")], stock, unreadable: [] });

describe("the rack", () => {
  let answers: Answers;
  beforeEach(() => {
    answers = {
      "GET /api/session": session(),
      "GET /api/rack/offcuts": { offcuts: [] },
      "GET /api/rack": rack(item("s1", "Harbor A"), item("s2", "Harbor rest", { kind: "offcut" })),
    };
  });
  const page = () => shown(<RackPage />, answers, { at: "/rack", path: "/rack" });

  it("says what is on it, and of each how much is left", async () => {
    page();
    expect(await screen.findByText("1 roll, 1 offcuts")).toBeVisible();
    expect(screen.getAllByRole("img", { name: /left of/ })).toHaveLength(2);
    expect(screen.getByRole("button", { name: "Slit Harbor A" })).toBeVisible();
    expect(screen.queryByRole("button", { name: "Slit Harbor rest" })).toBeNull();
    expect(await screen.findAllByText(/\$6\.46\/m²/)).toHaveLength(2);
  });

  it("says what comes first: a film, then its rolls", async () => {
    answers["GET /api/rack"] = { films: [], stock: [], unreadable: [] };
    const { client } = page();
    expect(await screen.findByText(/No film is on file/)).toBeVisible();
    expect(screen.getByRole("button", { name: "Put film on the rack" })).toBeDisabled();
    answers["GET /api/rack"] = rack();
    await client.invalidateQueries({ queryKey: ["rack"] });
    expect(await screen.findByText(/The rack is empty/)).toBeVisible();
    expect(screen.getByRole("button", { name: "Put film on the rack" })).toBeEnabled();
  });

  it("shows no price to who sees none, and what is held in its place", async () => {
    answers["GET /api/session"] = session({ ...LEAD, prices: false });
    answers["GET /api/rack"] = rack(
      item("s1", "Harbor A", { price: null, price_per_m2: null }),
      item("s2", "Harbor B", { held_mm: 3048, price: null, price_per_m2: null }),
    );
    page();
    expect(await screen.findByText("10 ft")).toBeVisible();
    expect(screen.queryByText(/\$/)).toBeNull();
    expect(screen.queryByRole("link", { name: "To buy, and film used" })).toBeNull();
  });

  const archive = (...items: Schemas["ArchivedItem"][]): Schemas["ArchivedOut"] => ({ kind: "stock", items });
  const gone = { id: "s1", version: 9, name: "Harbor A", person: "Ines Varga", at: "2026-12-01T09:00:00Z" };

  it("archives a roll with its version, once asked, and puts it back by the next", async () => {
    answers["POST /api/archive/stock/s1"] = archive(gone);
    answers["POST /api/archive/stock/s1/restore"] = archive();
    const { user, written } = page();
    await user.click(await screen.findByRole("button", { name: "Archive Harbor A" }));
    await user.click(screen.getByRole("button", { name: "Keep it" }));
    expect(written).toEqual([]);
    await user.click(await screen.findByRole("button", { name: "Archive Harbor A" }));
    await user.click(screen.getByRole("button", { name: "Archive" }));
    await user.click(await screen.findByRole("button", { name: "Undo" }));
    await waitFor(() => expect(written).toHaveLength(2));
    expect(written.map((one) => [one.to, (one.body as { version: number }).version])).toEqual([
      ["POST /api/archive/stock/s1", 8],
      ["POST /api/archive/stock/s1/restore", 9],
    ]);
  });

  it("says why a roll cannot be archived", async () => {
    answers["POST /api/archive/stock/s1"] = refused(422, "Harbor A is held for job 1003. Let that go first.");
    const { user } = page();
    await user.click(await screen.findByRole("button", { name: "Archive Harbor A" }));
    await user.click(screen.getByRole("button", { name: "Archive" }));
    expect(await screen.findByText("Harbor A is held for job 1003. Let that go first.")).toBeVisible();
    expect(screen.queryByRole("button", { name: "Undo" })).toBeNull();
  });

  it("shows what is archived, by whom, and restores it", async () => {
    answers["GET /api/archive/stock"] = archive(gone);
    answers["POST /api/archive/stock/s1/restore"] = archive();
    const { user, written, router } = page();
    await user.click(await screen.findByRole("button", { name: "Archived" }));
    expect(await screen.findByText("Archived film of the rack")).toBeVisible();
    expect(router.state.location.search).toBe("?archived=1");
    expect(screen.getByText(/^Ines Varga, Dec 1, 2026/)).toBeVisible();
    await user.click(screen.getByRole("button", { name: "Restore Harbor A" }));
    expect(await screen.findByText("Nothing is archived.")).toBeVisible();
    expect(written[0]?.body).toEqual({ version: 9 });
  });

  it("lets nobody but a lead or an owner archive", async () => {
    answers["GET /api/session"] = session({ ...LEAD, role: "learner" });
    page();
    expect(await screen.findByText("1 roll, 1 offcuts")).toBeVisible();
    expect(screen.queryByRole("button", { name: "Archive Harbor A" })).toBeNull();
    expect(screen.queryByRole("button", { name: "Archived" })).toBeNull();
  });

  it("slits a roll where both pieces are rolls, and says how wide the second gets", async () => {
    answers["POST /api/stock/s1/slit"] = rack(item("s3", "Harbor A, 20 in"), item("s4", "Harbor A, 40 in"));
    const { user, written } = page();
    await user.click(await screen.findByRole("button", { name: "Slit Harbor A" }));
    expect(screen.getByRole("button", { name: "Slit it" })).toBeDisabled();
    await user.type(screen.getByLabelText("Width of the first roll"), "20");
    expect(screen.getByText(/leaves a second one of 40/)).toBeVisible();
    await user.click(screen.getByRole("button", { name: "Slit it" }));
    expect(await screen.findByText("Harbor A is slit into two rolls.")).toBeVisible();
    expect(written[0]?.body).toEqual({ version: 8, at: "20" });
  });

  it("says what offcuts become, and which should go", async () => {
    answers["GET /api/rack/offcuts"] = {
      offcuts: [
        { stock_id: "s1", could_become: [], old: true },
        {
          stock_id: "s2",
          could_become: [
            { words: "Driver vent of job 1004", job_id: "j4" },
            { words: "a sun strip", job_id: null },
          ],
          old: false,
        },
      ],
    };
    page();
    expect(await screen.findByText("Becomes: Driver vent of job 1004, and 1 more")).toBeVisible();
    expect(screen.getByText("Old, fits nothing booked: throw it away?")).toBeVisible();
  });
});

describe("a piece of stock", () => {
  const stock = (more: Partial<Schemas["StockPage"]> = {}): Schemas["StockPage"] => ({
    stock: item("s1", "Harbor A"),
    film_name: "Harbor 15",
    removed: false,
    balance: { received_mm: 30480, used_mm: 9144, waste_mm: 1524, kept_mm: 1219.2, left_mm: 18592.8 },
    movements: [
      {
        at: "2026-11-20T10:00:00Z",
        kind: "used",
        length_mm: -1524,
        note: "",
        person: "Tobi Lund",
        job_id: "j1",
        job_number: 1001,
      },
      {
        at: "2026-11-19T10:00:00Z",
        kind: "corrected",
        length_mm: 304.8,
        note: "counted",
        person: "Ines Varga",
        job_id: null,
        job_number: null,
      },
    ],
    holds: [],
    could_become: [],
    old: false,
    full_rolls: [],
    ...more,
  });
  let answers: Answers;
  beforeEach(() => {
    answers = {
      "GET /api/session": session(),
      "GET /api/rack": rack(item("s1", "Harbor A")),
      "GET /api/stock/s1": stock(),
    };
  });
  const page = () => shown(<StockPage />, answers, { at: "/rack/s1", path: "/rack/:stockId" });

  it("adds up: what came is what was used, wasted, kept and left", async () => {
    page();
    expect(await screen.findByText("Harbor A: 61 ft free")).toBeVisible();
    const rows = within(screen.getByRole("table")).getAllByRole("row").slice(1);
    expect(rows.map((row) => row.textContent)).toEqual([
      "2026-11-20−60 inon cars job 1001Tobi Lund",
      "2026-11-19+12 incorrected: counted Ines Varga",
    ]);
    for (const words of ["100 ft", "30 ft", "48 in", "61 ft"]) expect(screen.getByText(words)).toBeVisible();
  });

  it("is thrown away with a reason only, and says a refusal", async () => {
    answers["POST /api/stock/s1/bin"] = refused(409, "Somebody cut from it meanwhile. Look again.");
    const { user, written } = page();
    await user.click(await screen.findByRole("button", { name: "Throw away" }));
    expect(screen.getByRole("button", { name: "Book it as waste" })).toBeDisabled();
    await user.type(screen.getByLabelText("Why"), "  creased ");
    await user.click(screen.getByRole("button", { name: "Book it as waste" }));
    expect(await screen.findByText("Somebody cut from it meanwhile. Look again.")).toBeVisible();
    expect(written[0]?.body).toEqual({ version: 8, reason: "creased" });
    answers["POST /api/stock/s1/bin"] = rack();
    await user.click(screen.getByRole("button", { name: "Book it as waste" }));
    expect(await screen.findByText("another page")).toBeVisible();
  });

  it("is put back once it is off, unless nothing is left of it", async () => {
    answers["GET /api/stock/s1"] = stock({ removed: true });
    const { client } = page();
    expect(await screen.findByText("Harbor A is off the rack")).toBeVisible();
    expect(screen.getByRole("button", { name: "Put it back on the rack" })).toBeVisible();
    answers["GET /api/stock/s1"] = stock({
      removed: true,
      balance: { received_mm: 30480, used_mm: 30480, waste_mm: 0, kept_mm: 0, left_mm: 0 },
    });
    await client.invalidateQueries({ queryKey: ["rack"] });
    expect(await screen.findByRole("link", { name: "Rack" })).toBeVisible();
  });

  it("tells by the tape how much is left, in the unit of who reads", async () => {
    answers["GET /api/stock/s1/recount?girth=15&core=9"] = {
      length_mm: 18288,
      pm_mm: 609.6,
      thickness_mm: 0.0712,
      rolls: 1,
      agrees: true,
      words: "As the ledger says.",
    };
    const { user } = page();
    await user.type(await screen.findByLabelText("Round the roll"), "15");
    await user.type(screen.getByLabelText("Round the bare core"), "9");
    expect(await screen.findByText("60.0 ft ± 2.0 ft")).toBeVisible();
    expect(screen.getByText("One turn is 0.071 mm thick, by 1 full roll.")).toBeVisible();
  });
});

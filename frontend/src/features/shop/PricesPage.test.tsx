import { screen, waitFor } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { refused, session, shown, type Answers } from "../../test/shown";
import type { Letterhead as Kept, Prices, Standard } from "./api";
import { Letterhead } from "./components/Letterhead";
import { PricesPage } from "./PricesPage";
import { StandardPage } from "./StandardPage";

const prices = (more: Partial<Prices> = {}): Prices => ({
  windows: { front_door: 60, back_glass: 140 },
  films: { dyed: 1, ceramic: 1.6 },
  own_films: { f1: 2 },
  strip: 45,
  minute: 1.5,
  tax_percent: 7,
  taxed: ["extra", "film", "own", "removal"],
  tax_by_line: false,
  own: false,
  version: 1,
  ...more,
});

describe("the price list", () => {
  let answers: Answers;
  beforeEach(() => {
    answers = { "GET /api/price-list": prices() };
  });

  it("is kept whole, with what this screen does not show", async () => {
    answers["PUT /api/price-list"] = prices({ own: true, version: 2 });
    const { user, written } = shown(<PricesPage />, answers);
    expect(await screen.findByText("Starting prices, not yours yet")).toBeVisible();
    const tax = screen.getByLabelText("tax, %");
    await user.clear(tax);
    expect(screen.getByRole("button", { name: "Keep the prices" })).toBeDisabled();
    await user.type(tax, "8.25");
    await user.click(screen.getByRole("button", { name: "Keep the prices" }));
    expect(await screen.findByText("The shop’s price list")).toBeVisible();
    expect(written[0]?.body).toEqual({
      windows: { front_door: 60, back_glass: 140 },
      films: { dyed: 1, ceramic: 1.6 },
      own_films: { f1: 2 },
      strip: 45,
      minute: 1.5,
      tax_percent: 8.25,
      taxed: ["extra", "film", "own", "removal"],
      tax_by_line: false,
      version: 1,
    });
  });

  it("keeps what is taxed and how it is rounded", async () => {
    answers["PUT /api/price-list"] = prices({ own: true, version: 2, taxed: ["film"], tax_by_line: true });
    const { user, written } = shown(<PricesPage />, answers);
    for (const name of ["removal", "further work", "lines of your own", /^Round the tax of each line/])
      await user.click(await screen.findByRole("checkbox", { name }));
    await user.click(screen.getByRole("button", { name: "Keep the prices" }));
    expect(await screen.findByText(/The price list is kept/)).toBeVisible();
    expect(written[0]?.body).toMatchObject({ taxed: ["film"], tax_by_line: true });
    expect(screen.getByRole("checkbox", { name: "removal" })).not.toBeChecked();
  });

  it.each(["owner", "lead"])(
    "asks an owner for the yes to the starting prices, shown to a %s",
    async (role) => {
      answers["GET /api/session"] = session({ id: "ruth", name: "Ruth Amsel", role, prices: true });
      answers["POST /api/price-list/starting"] = prices({ own: true, version: 2 });
      const { user, written } = shown(<PricesPage />, answers);
      expect(await screen.findByText("Starting prices, not yours yet")).toBeVisible();
      if (role === "lead") {
        expect(await screen.findByText(/an owner says yes to them here/)).toBeVisible();
        return;
      }
      await user.click(await screen.findByRole("button", { name: "Yes, these are our prices" }));
      expect(await screen.findByText("The shop’s price list")).toBeVisible();
      expect(written[0]?.body).toEqual({ version: 1 });
    },
  );

  it("takes no price under nothing and no word for a price", async () => {
    const { user } = shown(<PricesPage />, answers);
    const strip = await screen.findByLabelText("sun strip, $");
    for (const typed of ["-1", "many", "1e"]) {
      await user.clear(strip);
      await user.type(strip, typed);
      expect(screen.getByRole("button", { name: "Keep the prices" })).toBeDisabled();
    }
  });

  it("keeps what was typed where another wrote first, follows his other prices, and is kept on the second try", async () => {
    let kept = prices();
    answers["GET /api/price-list"] = () => kept;
    answers["PUT /api/price-list"] = (sent) => {
      if ((sent.body as { version: number }).version === 1) {
        kept = prices({ own: true, version: 2, strip: 50 });
        return refused(409, "Ruth Amsel wrote prices meanwhile. Look at them and keep yours again.");
      }
      kept = { ...prices({ own: true, version: 3 }), ...(sent.body as object) };
      return kept;
    };
    const { user, written } = shown(<PricesPage />, answers);
    const tax = await screen.findByLabelText("tax, %");
    await user.clear(tax);
    await user.type(tax, "8");
    await user.click(screen.getByRole("button", { name: "Keep the prices" }));
    expect(await screen.findByText(/Ruth Amsel wrote prices meanwhile/)).toBeVisible();
    await waitFor(() => expect(screen.getByLabelText("sun strip, $")).toHaveValue("50"));
    expect(screen.getByLabelText("tax, %")).toHaveValue("8");
    await user.click(screen.getByRole("button", { name: "Keep the prices" }));
    expect(await screen.findByText(/The price list is kept/)).toBeVisible();
    expect(written[1]?.body).toMatchObject({ version: 2, strip: 50, tax_percent: 8 });
  });
});

describe("the standard of Look", () => {
  const standard = (more: Partial<Standard> = {}): Standard => ({
    own: true,
    unit: "window",
    rules: [{ kind: "speck", zone: "edge", most: 2, mm: 1 }],
    version: 5,
    ...more,
  });
  const answers: Answers = {
    "GET /api/look-standard": standard(),
    "GET /api/flaw-kinds": {
      kinds: [
        { id: "speck", words: "a speck" },
        { id: "hair", words: "a hair" },
      ],
    },
  };

  it("bounds what may stay, adds a rule, takes one out", async () => {
    const { user, written } = shown(<StandardPage />, {
      ...answers,
      "PUT /api/look-standard": standard({ version: 6 }),
    });
    await user.click(await screen.findByRole("button", { name: "Another rule" }));
    const many = screen.getAllByLabelText("So many");
    expect(many).toHaveLength(2);
    await user.clear(many[1] as HTMLElement);
    await user.type(many[1] as HTMLElement, "999");
    await user.click(screen.getAllByRole("button", { name: "Take out" })[0] as HTMLElement);
    await user.click(screen.getByRole("button", { name: "Keep the standard" }));
    expect(await screen.findByText("The standard is kept.")).toBeVisible();
    expect(written[0]?.body).toEqual({
      unit: "window",
      rules: [{ kind: "speck", zone: "edge", most: 50, mm: 1 }],
      version: 5,
    });
  });

  it("goes back to ours, and shows what holds then", async () => {
    const ours = standard({
      own: false,
      version: 6,
      rules: [{ kind: "hair", zone: "edge", most: 1, mm: 3 }],
    });
    const { user, written } = shown(<StandardPage />, { ...answers, "PUT /api/look-standard": ours });
    await user.click(await screen.findByRole("button", { name: "Back to ours" }));
    expect(await screen.findByText("Our standard, until the shop writes its own")).toBeVisible();
    expect(written[0]?.body).toEqual({ unit: "window", rules: [], version: 5 });
    expect(screen.getByRole("combobox", { name: "Flaw" })).toHaveTextContent("a hair");
  });
});

describe("the letterhead", () => {
  it("says what needs the name while there is none, and keeps what is typed after it was sent", async () => {
    const none: Kept = { name: "", address: "", contact: "", version: 0 };
    let answer: (kept: Kept) => void = () => undefined;
    const later = new Promise<Kept>((resolve) => (answer = resolve));
    const { user, written } = shown(<Letterhead />, {
      "GET /api/letterhead": none,
      "PUT /api/letterhead": () => later,
    });
    expect(await screen.findByText("Certificate, warranty and invoice need the name.")).toBeVisible();
    await user.type(screen.getByLabelText("Name of the shop"), "Rainline Film");
    await user.click(screen.getByRole("button", { name: "Keep" }));
    await user.type(screen.getByLabelText("Address"), "12 Mill Lane");
    answer({ ...none, name: "Rainline Film", version: 1 });
    await waitFor(() => expect(screen.queryByText(/need the name/)).toBeNull());
    expect(screen.getByLabelText("Name of the shop")).toHaveValue("Rainline Film");
    expect(screen.getByLabelText("Address")).toHaveValue("12 Mill Lane");
    expect(written[0]?.body).toEqual({ name: "Rainline Film", address: "", contact: "", version: 0 });
  });
});

import { screen, waitFor } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Rack } from "../../../api/client";
import { LEAD, refused, session, shown, type Answers } from "../../../test/shown";
import { item, type Item } from "../../../test/stock";
import { StockDialog } from "./StockDialog";

const film = (id: string, name: string) => ({ id, name }) as Rack["films"][number];
const roll = item("s1", "Harbor A", { film_id: "f2" });
const rack: Rack = { films: [film("f1", "Dusk 35"), film("f2", "Harbor 15")], stock: [roll], unreadable: [] };

describe("film put on the rack", () => {
  let answers: Answers;
  let closed: () => void;
  beforeEach(() => {
    answers = { "GET /api/session": session() };
    closed = vi.fn<() => void>();
  });
  const dialog = (known: Item | null = null) =>
    shown(<StockDialog rack={rack} item={known} onClose={closed} />, answers);

  it("begins with what is customary for its kind", async () => {
    const { user } = dialog();
    expect(screen.getByLabelText("Length left")).toHaveValue("100 ft");
    await user.click(screen.getByRole("combobox", { name: "Kind" }));
    await user.click(screen.getByRole("option", { name: /sheet/i }));
    expect(screen.getByLabelText("Width")).toHaveValue("24 in");
    expect(screen.getByLabelText("Full length")).toHaveValue("6.5 ft");
    expect(screen.queryByRole("checkbox", { name: "May be slit" })).toBeNull();
  });

  it("says the unit with a bare number: inches across, feet along", async () => {
    answers["POST /api/stock"] = rack;
    const { user, written } = dialog();
    await user.type(screen.getByLabelText("Name on the rack"), "Dusk B");
    await user.type(screen.getByLabelText("Width"), "60");
    await user.clear(screen.getByLabelText("Length left"));
    await user.type(screen.getByLabelText("Length left"), "98");
    await user.type(await screen.findByLabelText("Price at full length, $"), "280");
    await user.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(closed).toHaveBeenCalledTimes(1));
    expect(written[0]?.body).toMatchObject({
      film_id: "f1",
      kind: "roll",
      label: "Dusk B",
      width: "60",
      full_length: "100 ft",
      length_left: "98 ft",
      price: 280,
      sure: false,
    });
  });

  it("asks why a length is corrected, and only then", async () => {
    const { user } = dialog(roll);
    expect(screen.queryByLabelText("Why it is corrected")).toBeNull();
    await user.clear(screen.getByLabelText("Length left"));
    await user.type(screen.getByLabelText("Length left"), "60 ft");
    expect(screen.getByLabelText("Why it is corrected")).toBeVisible();
  });

  it("takes no word for a price", async () => {
    const { user } = dialog();
    await user.type(await screen.findByLabelText("Price at full length, $"), "cheap");
    expect(screen.getByText("A number, such as 180")).toBeVisible();
    expect(screen.getByRole("button", { name: "Save" })).toBeDisabled();
  });

  it("asks again about an odd price, and saves it once somebody is sure", async () => {
    answers["PUT /api/stock/s1"] = (sent) =>
      (sent.body as { sure: boolean }).sure
        ? rack
        : refused(
            422,
            "30 $ for a roll of this film? Others cost 300 $.",
            { price: "A tenth of the others." },
            "ask_again",
          );
    const { user, written } = dialog(roll);
    await user.clear(await screen.findByLabelText("Price at full length, $"));
    await user.type(screen.getByLabelText("Price at full length, $"), "30");
    await user.click(screen.getByRole("button", { name: "Save" }));
    expect(await screen.findByText("30 $ for a roll of this film? Others cost 300 $.")).toBeVisible();
    expect(screen.getByText("A tenth of the others.")).toBeVisible();
    await user.click(screen.getByRole("button", { name: "Yes, save it so" }));
    await waitFor(() => expect(closed).toHaveBeenCalled());
    expect(written.map((one) => (one.body as { version: number; sure: boolean }).sure)).toEqual([
      false,
      true,
    ]);
    expect(written[1]?.body).toMatchObject({ version: 8, price: 30 });
  });

  it("sends the facts that were touched, and no others", async () => {
    const { user, written } = dialog(roll);
    await user.type(await screen.findByLabelText("Lot"), "a");
    await user.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(written).toHaveLength(1));
    expect(written[0]?.body).toMatchObject({ lot: "H-77a", version: 8 });
    for (const fact of ["liner", "place", "received_on", "opened_on", "slittable"])
      expect(written[0]?.body).not.toHaveProperty(fact);
  });

  it("asks no price of who sees none, and leaves the roll's as it is", async () => {
    answers["GET /api/session"] = session({ ...LEAD, prices: false });
    answers["PUT /api/stock/s1"] = rack;
    const { user, written } = dialog({ ...roll, price: null, price_per_m2: null });
    await user.clear(screen.getByLabelText("Place on the rack"));
    await user.type(screen.getByLabelText("Place on the rack"), "left");
    await user.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(closed).toHaveBeenCalled());
    expect(screen.queryByLabelText("Price at full length, $")).toBeNull();
    expect(written[0]?.body).toMatchObject({ place: "left", price: null });
  });

  it("shows no lot to one person at home", async () => {
    answers["GET /api/session"] = session(undefined, { home: true });
    dialog(roll);
    await waitFor(() => expect(screen.queryByLabelText("Lot")).toBeNull());
    expect(screen.getByLabelText("Place on the rack")).toHaveValue("top");
  });
});

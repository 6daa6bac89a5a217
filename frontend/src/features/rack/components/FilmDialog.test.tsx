import { screen, waitFor } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Rack } from "../../../api/client";
import { LEAD, refused, session, shown, type Answers } from "../../../test/shown";
import { FilmDialog } from "./FilmDialog";

const rack: Rack = { films: [], stock: [], unreadable: [] };
const film: Rack["films"][number] = {
  id: "f1",
  version: 3,
  name: "Dusk 35",
  construction: "dyed",
  vlt_percent: 35,
  vlt_basis: "on_3mm_clear",
  reflectance_percent: 9,
  reflectance_inside_percent: null,
  uv_rejection_percent: 99,
  solar_transmittance_percent: null,
  solar_reflectance_percent: null,
  shrink_limit_percent: 1.6,
  colours: [],
  colour_words: "",
  mirror_finish: null,
  warranty: "unknown",
  warranty_years: null,
  price_per_m2: 12.5,
  stocked_mm: 0,
};

describe("a film's sheet", () => {
  let answers: Answers;
  let closed: () => void;
  beforeEach(() => {
    answers = { "GET /api/session": session() };
    closed = vi.fn<() => void>();
  });
  const dialog = (known: Rack["films"][number] | null) =>
    shown(<FilmDialog film={known} onClose={closed} />, answers);

  it("is saved as its sheet says; what the sheet leaves out stays unknown", async () => {
    answers["POST /api/films"] = rack;
    const { user, written } = dialog(null);
    expect(screen.getByRole("button", { name: "Save" })).toBeDisabled();
    await user.type(screen.getByLabelText("Name"), "Reed 40");
    await user.type(screen.getByLabelText("VLT, %"), "40");
    await user.type(await screen.findByLabelText("Price, $ per m²"), "9.8");
    await user.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(closed).toHaveBeenCalledTimes(1));
    expect(written[0]?.body).toMatchObject({
      name: "Reed 40",
      construction: "dyed",
      vlt_percent: 40,
      reflectance_percent: null,
      solar_transmittance_percent: null,
      price_per_m2: 9.8,
    });
  });

  it("takes no word for a figure, and says so", async () => {
    const { user } = dialog(film);
    await user.clear(screen.getByLabelText("VLT, %"));
    await user.type(screen.getByLabelText("VLT, %"), "dark");
    expect(screen.getByText("A number, such as 35")).toBeVisible();
    expect(screen.getByRole("button", { name: "Save" })).toBeDisabled();
  });

  it("shows at its field what cannot be, and keeps what was typed", async () => {
    answers["PUT /api/films/f1"] = refused(422, "70 and 45 make 115 %.", {
      reflectance_percent: "Too much.",
    });
    const { user } = dialog(film);
    await user.clear(screen.getByLabelText("VLT, %"));
    await user.type(screen.getByLabelText("VLT, %"), "70");
    await user.click(screen.getByRole("button", { name: "Save" }));
    expect(await screen.findByText("70 and 45 make 115 %.")).toBeVisible();
    expect(screen.getByText("Too much.")).toBeVisible();
    expect(screen.getByLabelText("VLT, %")).toHaveValue("70");
    expect(closed).not.toHaveBeenCalled();
  });

  it("asks how many years only where the warranty has years", async () => {
    const { user } = dialog(film);
    expect(screen.queryByLabelText("Years")).toBeNull();
    await user.click(screen.getByRole("combobox", { name: "Warranty" }));
    await user.click(screen.getByRole("option", { name: /years/i }));
    expect(screen.getByLabelText("Years")).toHaveValue("7");
  });

  it("asks no price of who sees none, and leaves the film's as it is", async () => {
    answers["GET /api/session"] = session({ ...LEAD, prices: false });
    answers["PUT /api/films/f1"] = rack;
    const { user, written } = dialog({ ...film, price_per_m2: null });
    await user.type(screen.getByLabelText("Name"), "s");
    await user.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(closed).toHaveBeenCalled());
    expect(screen.queryByLabelText("Price, $ per m²")).toBeNull();
    expect(written[0]?.body).toMatchObject({ name: "Dusk 35s", version: 3, price_per_m2: null });
  });
});

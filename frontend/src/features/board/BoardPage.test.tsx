import { screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { JobBrief, Schemas } from "../../api/client";
import { refused, shown } from "../../test/shown";
import { BoardPage } from "./BoardPage";

const job = (id: string, title: string, more: Partial<JobBrief> = {}) =>
  ({
    id,
    number: 1001,
    title,
    customer: "",
    vehicle_label: "Fenwick 4 sedan",
    status: "in_bay",
    bay: "Bay 1",
    band: [],
    filmed: 0,
    measured: 6,
    windows: 6,
    problems: [],
    promised_at: null,
    states: ["TX"],
    stuck: false,
    version: 1,
    worst: null,
    ...more,
  }) satisfies JobBrief;

const board = (more: Partial<Schemas["BoardOut"]> = {}): Schemas["BoardOut"] => ({
  in_bays: [],
  next: [],
  stuck: [],
  told: [],
  ...more,
});

describe("the first screen", () => {
  it("says that the bays are empty and what to do", async () => {
    shown(<BoardPage />, { "GET /api/board": board() });
    expect(await screen.findByText("The bays are empty")).toBeVisible();
    expect(screen.getByRole("link", { name: "Quick cut" })).toHaveAttribute("href", "/quick");
    expect(screen.queryByRole("region")).toBeNull();
  });

  it("counts what is stuck in a bay with what is stuck before it, in its largest text", async () => {
    const held = job("j1", "Crew cab", { problems: ["Back glass: no law on file for Ontario."] });
    shown(<BoardPage />, {
      "GET /api/board": board({
        in_bays: [held, job("j2", "Coupe")],
        stuck: [job("j3", "Van", { stuck: true })],
      }),
    });
    expect(await screen.findByText("2 stuck, 2 in the bays")).toBeVisible();
    const bays = screen.getByRole("region", { name: "In the bays now" });
    expect(within(bays).getByText(/no law on file for Ontario/)).toBeVisible();
    expect(screen.getByText("Nothing is booked after these.")).toBeVisible();
  });

  it("says that nothing is stuck where nothing is", async () => {
    shown(<BoardPage />, { "GET /api/board": board({ in_bays: [job("j2", "Coupe")] }) });
    expect(await screen.findByText("1 in the bays, nothing stuck")).toBeVisible();
    expect(screen.getByText("Nothing is stuck: film, law and readings are in order.")).toBeVisible();
  });

  it("tells what the shop has to know, with the way there", async () => {
    shown(<BoardPage />, { "GET /api/board": board({ told: ["The law file is 14 months old."] }) });
    const told = await screen.findByText(/The law file is 14 months old\./);
    expect(within(told).getByRole("link", { name: "Shop" })).toHaveAttribute("href", "/shop");
  });

  it("says why nothing is shown, and asks again", async () => {
    let down = true;
    const { user } = shown(<BoardPage />, {
      "GET /api/board": () =>
        down ? refused(500, "Something broke on the server; it is on its record.") : board(),
    });
    expect(await screen.findByText(/Something broke on the server/)).toBeVisible();
    down = false;
    await user.click(screen.getByRole("button", { name: "Try again" }));
    expect(await screen.findByText("The bays are empty")).toBeVisible();
  });
});

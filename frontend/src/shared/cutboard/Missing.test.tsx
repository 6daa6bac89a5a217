import { screen, within } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { FilmPlan } from "../../api/client";
import { shown } from "../../test/shown";
import { Missing, type Mends } from "./Missing";

const INCH = 25.4;
const SHORT: NonNullable<FilmPlan["short"]> = {
  longer: [
    { stock_id: "r1", label: "D24", more_mm: 2 * INCH, at_least_mm: 2 * INCH },
    { stock_id: "r2", label: "D40", more_mm: 9 * INCH, at_least_mm: 4 * INCH },
  ],
  new_rolls: [{ width_mm: 24 * INCH, length_mm: 40 * INCH, at_least_mm: 0 }],
  less_extra: { less_mm: INCH / 2, windows: [{ window_id: "w1", play_mm: INCH / 2 }] },
  other_films: [
    {
      film_id: "f2",
      film_name: "Harbor 15",
      window_ids: ["w1", "w2"],
      labels: ["Driver rear", "Passenger rear"],
    },
  ],
  most: { windows: 1, of: 2, left_out: ["Passenger rear"], split: ["Driver rear"] },
};
const plan = (short: FilmPlan["short"]) =>
  ({
    film_id: "f1",
    film_name: "Dusk 20",
    pieces: [{}],
    unplaced: [
      {
        window_id: "w2",
        label: "Passenger rear",
        reason: "Too little film left beside the other pieces.",
        pull_width_mm: 24 * INCH,
        length_needed_mm: 40 * INCH,
      },
    ],
    short,
  }) as unknown as FilmPlan;
const mends = (): Mends => ({ piece: () => null, lessExtra: vi.fn(), otherFilm: vi.fn() });

describe("film that is short", () => {
  it("says in order what would do, each with its touch", async () => {
    const touched = mends();
    const { user } = shown(<Missing plan={plan(SHORT)} unit="in" mends={touched} />, {});
    const rows = within(screen.getByRole("list", { name: "What would do" })).getAllByRole("listitem");
    expect(rows.map((row) => row.textContent)).toEqual([
      expect.stringMatching(
        /^2 in more on D24, or 9 in \(at least 4 in\) on D40\. A new roll: 24 in wide, 40 in or less of it\./,
      ),
      expect.stringMatching(/^1\/2 in less extra each side/),
      expect.stringMatching(/^Another film clears on Driver rear, Passenger rear, .*: Harbor 15\./),
      expect.stringMatching(
        /^1 of 2 windows now, .*later: Passenger rear\. Cut without its twin: Driver rear\./,
      ),
    ]);
    await user.click(screen.getByRole("button", { name: "Take 1/2 in less" }));
    expect(touched.lessExtra).toHaveBeenCalledWith(SHORT.less_extra?.windows);
    await user.click(screen.getByRole("button", { name: "Put Harbor 15 on" }));
    expect(touched.otherFilm).toHaveBeenCalledWith(SHORT.other_films[0]);
    expect(screen.getByRole("link", { name: "To the rack" })).toHaveAttribute("href", "/rack");
    expect(screen.getByRole("link", { name: "Cut these 1" })).toHaveAttribute("href", "#cut-f1");
  });

  it("only tells where nothing can be touched", () => {
    shown(<Missing plan={plan(SHORT)} unit="in" mends={null} />, {});
    expect(screen.getByRole("alert")).toHaveTextContent("1/2 in less extra each side");
    expect(screen.queryByRole("button")).toBeNull();
  });

  it("names a roll to pull until somebody has worked it out", () => {
    shown(<Missing plan={plan(null)} unit="in" mends={null} />, {});
    expect(screen.getByRole("alert")).toHaveTextContent("Pull a 24 in roll, 40 in of it.");
    expect(screen.queryByRole("list", { name: "What would do" })).toBeNull();
  });
});

import { screen, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { refused, shown, type Answers } from "../../test/shown";
import type { Keeping } from "./api";
import { KeepingPage } from "./KeepingPage";

const copy = (name: string, more: Partial<Keeping["copies"][number]> = {}): Keeping["copies"][number] => ({
  name,
  why: "every night",
  made_at: "2026-11-26T02:00:00Z",
  size: 12_400_000,
  rows: 4210,
  photos: 12,
  release: "0.11.0",
  ...more,
});

const shop = (more: Partial<Keeping> = {}): Keeping => ({
  copies: [copy("night-1.db"), copy("by-hand-1.db", { why: "by hand", rows: null, size: 2_340_000_000 })],
  database_bytes: 14_200_000,
  photo_bytes: 3_100_000,
  journal_bytes: 0,
  free_bytes: 61_000_000_000,
  folder: "/srv/elumbra/copies",
  second_folder: "",
  growth: [],
  last_at: "2026-11-26T02:00:00Z",
  last_bad: false,
  last_words: "Copied, read back and compared.",
  rules: ["One copy of each of the last seven days is kept."],
  version: 2,
  ...more,
});

describe("copies of the shop", () => {
  let answers: Answers;
  beforeEach(() => {
    answers = { "GET /api/keeping": shop() };
  });

  it("lists each copy with what it holds and how large it is", async () => {
    shown(<KeepingPage />, answers);
    const table = await screen.findByRole("table", { name: "Copies of the shop" });
    const rows = within(table).getAllByRole("row").slice(1);
    expect(rows).toHaveLength(2);
    expect(rows[0]).toHaveTextContent(/every night4210 ?12\.4 MB/);
    expect(rows[1]).toHaveTextContent(/by handnot known2\.3 GB/);
    expect(
      screen.getByText(/Database 14\.2 MB, pictures 3\.1 MB; free on the disk 61\.0 GB\./),
    ).toBeVisible();
  });

  it("says what to expect while there is none yet", async () => {
    shown(<KeepingPage />, { "GET /api/keeping": shop({ copies: [], last_words: "No copy was made yet." }) });
    expect(await screen.findByText("No copy yet")).toBeVisible();
    expect(screen.getByText(/The first copy is made tonight/)).toBeVisible();
    expect(screen.getByText(/How it grows shows from the second day/)).toBeVisible();
  });

  it("says in its largest text that the last copy failed", async () => {
    shown(<KeepingPage />, {
      "GET /api/keeping": shop({ last_bad: true, last_words: "The disk is full: 2 MB free." }),
    });
    expect(await screen.findByText("The disk is full: 2 MB free.")).toBeVisible();
  });

  it("makes a copy at once, says that it was compared, and shows why one could not be made", async () => {
    const made = shop({ copies: [copy("by-hand-2.db", { why: "by hand" }), ...shop().copies] });
    answers["POST /api/keeping/copy"] = made;
    const { user, written } = shown(<KeepingPage />, answers);
    await user.click(await screen.findByRole("button", { name: "Copy now" }));
    expect(
      await screen.findByText("Copied, read back and compared.", { selector: "[role=alert] *" }),
    ).toBeVisible();
    expect(written).toHaveLength(1);
  });

  it("keeps what stands where a copy cannot be made", async () => {
    answers["POST /api/keeping/copy"] = refused(507, "The disk is full: 2 MB free, 14 MB needed.");
    const { user } = shown(<KeepingPage />, answers);
    await user.click(await screen.findByRole("button", { name: "Copy now" }));
    expect(await screen.findByText("The disk is full: 2 MB free, 14 MB needed.")).toBeVisible();
    expect(screen.getAllByRole("row")).toHaveLength(3);
  });

  it("rehearses before it puts back, and puts back only what was named again", async () => {
    answers["POST /api/keeping/rehearse"] = {
      words: "night-1.db is whole: 9 jobs, 4210 rows",
      upgraded: true,
      differs: [{ what: "jobs", words: "9, now 11" }],
    };
    answers["POST /api/keeping/restore"] = { words: "Put back. Everybody signs in again." };
    const { user, written } = shown(<KeepingPage />, answers);
    await user.click(await screen.findByRole("button", { name: "Look into night-1.db" }));
    const part = screen.getByRole("region", { name: "night-1.db" });
    expect(within(part).queryByRole("button", { name: "Put it back" })).toBeNull();
    await user.click(within(part).getByRole("button", { name: "Rehearse putting it back" }));
    expect(await within(part).findByText(/9 jobs, 4210 rows; it is brought to this release\./)).toBeVisible();
    expect(within(part).getByText("Against the shop now: jobs 9, now 11.")).toBeVisible();
    const back = within(part).getByRole("button", { name: "Put it back" });
    expect(back).toBeDisabled();
    await user.type(within(part).getByLabelText("Type night-1.db to put it back"), "night-1");
    expect(back).toBeDisabled();
    await user.type(within(part).getByLabelText("Type night-1.db to put it back"), ".db");
    await user.click(back);
    expect(await within(part).findByText("Put back. Everybody signs in again.")).toBeVisible();
    expect(written.map((one) => [one.to, one.body])).toEqual([
      ["POST /api/keeping/rehearse", { name: "night-1.db" }],
      ["POST /api/keeping/restore", { name: "night-1.db", again: "night-1.db" }],
    ]);
  });

  it("begins anew with another copy: what was rehearsed is not another's", async () => {
    answers["POST /api/keeping/rehearse"] = {
      words: "night-1.db is whole: 9 jobs",
      upgraded: false,
      differs: [],
    };
    const { user } = shown(<KeepingPage />, answers);
    await user.click(await screen.findByRole("button", { name: "Look into night-1.db" }));
    await user.click(screen.getByRole("button", { name: "Rehearse putting it back" }));
    expect(await screen.findByText("It holds the very same as the shop now.")).toBeVisible();
    await user.click(screen.getByRole("button", { name: "Look into by-hand-1.db" }));
    expect(screen.getByRole("button", { name: "Rehearse putting it back" })).toBeEnabled();
    expect(screen.queryByText(/is whole/)).toBeNull();
  });

  it("keeps a second place, and says at once why it cannot", async () => {
    answers["PUT /api/keeping"] = refused(422, "There is no folder /media/none.");
    const { user, written } = shown(<KeepingPage />, answers);
    const part = await screen.findByRole("region", { name: "A second place" });
    expect(within(part).getByRole("button", { name: "Keep" })).toBeDisabled();
    await user.type(within(part).getByLabelText("Second folder"), "/media/none");
    await user.click(within(part).getByRole("button", { name: "Keep" }));
    expect(await within(part).findByText("There is no folder /media/none.")).toBeVisible();
    expect(written[0]?.body).toEqual({ second_folder: "/media/none", version: 2 });
    expect(within(part).getByLabelText("Second folder")).toHaveValue("/media/none");
  });

  it("draws growth to one scale", async () => {
    const growth = [
      { day: "2026-11-24", size: 5_000_000 },
      { day: "2026-11-25", size: 10_000_000 },
    ];
    shown(<KeepingPage />, { "GET /api/keeping": shop({ growth }) });
    const bars = (await screen.findByRole("img", { name: "Growth" })).children;
    expect([...bars].map((bar) => bar.getAttribute("title"))).toEqual([
      "2026-11-24: 5.0 MB",
      "2026-11-25: 10.0 MB",
    ]);
  });
});

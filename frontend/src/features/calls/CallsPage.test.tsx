import { screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { refused, shown, type Answers } from "../../test/shown";
import type { Advice, History } from "./api";
import { CallsPage } from "./CallsPage";
import { HistoryPage } from "./HistoryPage";

type Callers = Schemas["CallersOut"];

const open: Callers["open"][number] = {
  id: "k1",
  window_id: "w1",
  words: "Back glass, 1001: bubbles after two weeks",
  outcome: "show",
  bears: "shop",
  person: "Sol Pereira",
  version: 2,
} as Callers["open"][number];

const job: Callers["jobs"][number] = {
  id: "j1",
  number: 988,
  vehicle: "Larkspur GT coupe",
  customer: "Rosa Vale",
  phone: "555 0100",
  plate: "TNT 4",
  status: "delivered",
  handed_over_on: "2026-11-10",
  windows: [{ id: "w1", label: "Back glass", film: "Harbor 15", lot: "H-77" }],
} as Callers["jobs"][number];

describe("who calls", () => {
  it("finds the car by what the caller says, and goes to the window", async () => {
    const { user } = shown(
      <CallsPage />,
      {
        "GET /api/callers?search=": { jobs: [], open: [] },
        "GET /api/callers?search=TNT": { jobs: [job], open: [] },
        "GET /api/callers?search=TNT%209": { jobs: [], open: [] },
        "GET /api/callers": { jobs: [], open: [] },
      },
      { at: "/calls", path: "/calls" },
    );
    const field = await screen.findByLabelText("Find the car");
    expect(screen.queryByText(/No car here has/)).toBeNull();
    await user.type(field, "TNT");
    const car = await screen.findByRole("region", { name: "988 Larkspur GT coupe" });
    expect(car).toHaveTextContent("TNT 4 · 555 0100 · job 988 · went 2026-11-10");
    const glass = within(car).getByRole("link", { name: "Back glass" });
    expect(glass).toHaveAttribute("href", "/calls/w1");
    expect(glass).toHaveAttribute("title", "Harbor 15, lot H-77");
    await user.type(field, " 9");
    expect(await screen.findByText(/No car here has “TNT 9”\./)).toBeVisible();
  });

  it("settles a call with the version that was read, and says why it was refused", async () => {
    let answer: object = refused(409, "Somebody settled this call meanwhile.");
    const answers: Answers = {
      "GET /api/callers": { jobs: [], open: [open] },
      "PATCH /api/calls/k1": () => answer,
    };
    const { user, written } = shown(<CallsPage />, answers, { at: "/calls", path: "/calls" });
    const part = await screen.findByRole("region", { name: "Open calls, 1" });
    await user.click(within(part).getByRole("button", { name: "Settled" }));
    expect(await within(part).findByText("Somebody settled this call meanwhile.")).toBeVisible();
    answer = { window_id: "w1" };
    answers["GET /api/callers"] = { jobs: [], open: [] };
    await user.click(within(part).getByRole("button", { name: "Settled" }));
    expect(await screen.findByText("None is open.")).toBeVisible();
    expect(written.map((one) => one.body)).toEqual([
      { version: 2, status: "done" },
      { version: 2, status: "done" },
    ]);
  });
});

describe("what to tell who calls", () => {
  const history = (more: Partial<History> = {}): History => ({
    window_id: "w1",
    job_id: "j1",
    label: "Back glass",
    title: "988 Larkspur GT coupe",
    customer: "Rosa Vale",
    phone: "555 0100",
    plate: "",
    vin: "",
    film: "Harbor 15",
    lot: "",
    days: 16,
    handed_over_on: "2026-11-10",
    kinds: [
      { id: "haze", words: "milky, hazy" },
      { id: "bubble", words: "a bubble" },
    ] as History["kinds"],
    calls: [],
    history: [],
    photos: [],
    ...more,
  });
  const advice = (more: Partial<Advice> = {}): Advice => ({
    say: "That is water drying out: wait until 10 December.",
    outcome: "normal",
    bears: "nobody",
    reasons: ["Sixteen days after, film this dense dries for thirty."],
    missing: [],
    questions: [],
    ...more,
  });
  const PAGE = { at: "/calls/w1", path: "/calls/:windowId" };

  it("asks first what is seen, and says whose car it is", async () => {
    shown(<HistoryPage />, { "GET /api/windows/w1/history": history() }, PAGE);
    expect(await screen.findByText("Back glass: what does the caller see?")).toBeVisible();
    expect(screen.getByText("Harbor 15, lot not on record")).toBeVisible();
    expect(
      screen.getAllByText(/Rosa Vale · 555 0100 · handed over 2026-11-10, 16 days ago/)[0],
    ).toBeVisible();
    expect(screen.getByText("Nothing is on record of it.")).toBeVisible();
  });

  it("says that a car that has not gone yet has not", async () => {
    shown(
      <HistoryPage />,
      { "GET /api/windows/w1/history": history({ days: null, handed_over_on: "" }) },
      PAGE,
    );
    expect((await screen.findAllByText(/not handed over yet/))[0]).toBeVisible();
  });

  it("asks what the advice hangs on, and keeps the call with what was answered", async () => {
    const asks = advice({
      say: "Look at it together.",
      outcome: "show",
      bears: "shop",
      missing: ["the lot of its film"],
      questions: [{ fact: "edge", ask: "Does it begin at an edge?" }] as Advice["questions"],
    });
    const answers: Answers = {
      "GET /api/windows/w1/history": history(),
      "GET /api/windows/w1/call-advice?kind=bubble&answers=": asks,
      "GET /api/windows/w1/call-advice?kind=bubble&answers=edge%3Ayes": advice({
        say: "It lifts at its edge: we do it again.",
        outcome: "redo",
        bears: "shop",
      }),
      "POST /api/windows/w1/calls": history({
        history: [
          { at: "2026-11-26T10:00:00Z", words: "call: a bubble", person: "Sol Pereira" },
        ] as History["history"],
      }),
    };
    const { user, written } = shown(<HistoryPage />, answers, PAGE);
    await user.click(await screen.findByRole("combobox", { name: "The caller sees" }));
    await user.click(screen.getByRole("option", { name: "a bubble" }));
    expect(await screen.findByText("Look at it together.")).toBeVisible();
    expect(screen.getByText("Missing: the lot of its film")).toBeVisible();
    await user.type(screen.getByLabelText("What the caller said"), "a bubble at the top");
    await user.click(screen.getByRole("button", { name: "Yes" }));
    expect(await screen.findByText("It lifts at its edge: we do it again.")).toBeVisible();
    expect(screen.getByLabelText("What the caller said")).toHaveValue("a bubble at the top");
    await user.click(screen.getByRole("button", { name: "Keep the call" }));
    expect(await screen.findByText("The call is on record.")).toBeVisible();
    expect(written[0]?.body).toEqual({
      kind: "bubble",
      said: "a bubble at the top",
      answers: { edge: "yes" },
      outcome: null,
      bears: null,
      because: "",
    });
    expect(await screen.findByText(/call: a bubble, Sol Pereira/)).toBeVisible();
  });

  it("lets one decide otherwise from the advice as it stands, only with a reason", async () => {
    const { user, written } = shown(
      <HistoryPage />,
      {
        "GET /api/windows/w1/history": history(),
        "GET /api/windows/w1/call-advice": advice(),
        "POST /api/windows/w1/calls": history(),
      },
      PAGE,
    );
    await user.click(await screen.findByRole("combobox", { name: "The caller sees" }));
    await user.click(screen.getByRole("option", { name: "milky, hazy" }));
    await user.click(await screen.findByRole("button", { name: "Decide otherwise" }));
    expect(screen.getByRole("combobox", { name: "What is done" })).toHaveTextContent("Normal: wait");
    expect(screen.getByRole("button", { name: "Keep the call" })).toBeDisabled();
    await user.click(screen.getByRole("combobox", { name: "What is done" }));
    await user.click(screen.getByRole("option", { name: "Redo" }));
    await user.type(screen.getByLabelText("Why"), "a good customer");
    await user.click(screen.getByRole("button", { name: "Keep the call" }));
    await waitFor(() => expect(written).toHaveLength(1));
    expect(written[0]?.body).toMatchObject({ outcome: "redo", bears: "nobody", because: "a good customer" });
  });
});

import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { refused, session, shown, type Answers } from "../../test/shown";
import type { CarOn, Sheet, TaskOn } from "./api";
import { DayPage } from "./DayPage";

const DAY = "2026-11-27";

const task = (id: string, start: number, end: number, more: Partial<TaskOn> = {}): TaskOn => ({
  id,
  job_id: "j1",
  label: "Back glass",
  words: "shrink",
  skill: "shrink",
  place: "bay",
  worker: "tobi",
  start,
  end,
  wait_until: end,
  start_words: "",
  end_words: "",
  locked: false,
  ...more,
});

const car = (job_id: string, number: number, more: Partial<CarOn> = {}): CarOn => ({
  job_id,
  number,
  title: "Larkspur GT coupe",
  customer: "R. Vale",
  status: "booked",
  booked: true,
  arrives: 480,
  arrives_words: "8:00 AM",
  due: 900,
  due_words: "3:00 PM",
  promised_at: "2026-11-27T15:00:00Z",
  pick_up_words: "",
  ready: 840,
  ready_words: "2:00 PM",
  late: 0,
  why_late: "",
  chance: 0.97,
  waits_here: false,
  bay: "Bay 1",
  in_bay: { start: 480, end: 840 },
  work: 62,
  left_share: 1,
  told: "",
  stuck: false,
  note: "",
  ...more,
});

const hand = (id: string, name: string, more: Partial<Sheet["people"][number]> = {}) => ({
  id,
  name,
  role: "installer",
  spans: [
    { start: 480, end: 720 },
    { start: 750, end: 1020 },
  ],
  away: "",
  work: 62,
  ...more,
});

const sheet = (more: Partial<Sheet> = {}): Sheet => ({
  day: DAY,
  title: "Friday 27 November",
  zone: "America/Chicago",
  today: false,
  now: null,
  stamp: "s1",
  version: 4,
  begins: 480,
  ends: 1020,
  marks: Array.from({ length: 10 }, (_, i) => ({ minute: 480 + 60 * i, words: `${((7 + i) % 12) + 1}:00` })),
  people: [hand("tobi", "Tobi Lund"), hand("nils", "Nils Brandt", { role: "learner" })],
  bays: [{ name: "Bay 1", door: "", under_door: false }],
  sun: [{ start: 600, end: 900 }],
  cars: [
    car("j1", 1002),
    car("j2", 1005, { title: "Halden Drover crew cab", chance: 0.62, due_words: "2:30 PM" }),
  ],
  tasks: [
    task("a", 600, 630),
    task("b", 631, 662, { words: "lay film" }),
    task("c", 700, 720, { job_id: "j2", worker: "nils", words: "prepare", label: "Windshield" }),
  ],
  done: [],
  headline: "1 promise in danger",
  told: [],
  cannot: [],
  left_out: [],
  waits: [],
  danger: [
    {
      job_id: "j2",
      words: "Halden Drover crew cab: promised for 2:30 PM, kept on 62% of days",
      chance: 0.62,
    },
  ],
  late: 0,
  overtime: 0,
  waiting: 200,
  late_least: 0,
  overtime_least: 0,
  waiting_least: 150,
  proven: false,
  sure: 0.9,
  together: [{ film_id: "f1", name: "Dusk 35", cars: 2, saves: 6, chosen: false }],
  decided: { away: {}, together: [], damp: false, no_sun: false, overtime: 60, bays: {}, by_hand: [] },
  days: [
    { day: DAY, cars: 2, open: true },
    { day: "2026-11-28", cars: 0, open: true },
    { day: "2026-11-29", cars: 0, open: false },
  ],
  task_id: null,
  looked: true,
  basis: "b1",
  ...more,
});

describe("the day", () => {
  let answers: Answers;
  const at = { at: `/day/${DAY}`, path: "/day/:day" };
  beforeEach(() => {
    answers = {
      "GET /api/session": session(),
      [`GET /api/days/${DAY}`]: sheet(),
      [`GET /api/days/${DAY}/stamp`]: { stamp: "s1" },
    };
  });
  const panel = () => within(screen.getByRole("complementary", { name: "About the day" }));
  const blocks = () => screen.getAllByRole("button", { name: /^(Tobi Lund|Nils Brandt), / });

  it("says in its largest text what is in danger, and what is proven beside it", async () => {
    shown(<DayPage />, answers, at);
    expect(await screen.findByText("1 promise in danger")).toBeVisible();
    expect(
      screen.getByText(
        /No promise late by plan, no overtime; cars wait 200 min in all, not proven \(at least 150\)/,
      ),
    ).toBeVisible();
  });

  it("says a bound as proven least where the plan reaches it", async () => {
    const proven = sheet({ late: 12, late_least: 12, overtime: 30, overtime_least: 5, waiting_least: 200 });
    shown(<DayPage />, { ...answers, [`GET /api/days/${DAY}`]: proven }, at);
    expect(
      await screen.findByText(
        /12 min late in all, proven least, 30 min of overtime, not proven \(at least 5\); cars wait 200 min in all, proven least/,
      ),
    ).toBeVisible();
  });

  it("draws what follows on one car as one block and says each block in words", async () => {
    shown(<DayPage />, answers, at);
    await screen.findByRole("group", { name: "The day from 8:00 to 5:00" });
    expect(blocks().map((one) => one.getAttribute("aria-label"))).toEqual([
      "Tobi Lund, 10:00 to 11:02: 1002, Back glass shrink; Back glass lay film",
      "Nils Brandt, 11:40 to 12:00: 1005, Windshield prepare",
    ]);
    expect(screen.getByRole("button", { name: "1002 Larkspur GT coupe in Bay 1" })).toBeVisible();
  });

  it("moves a block by its panel: all of it, as far apart as before, with the version that was read", async () => {
    answers[`PUT /api/days/${DAY}`] = sheet({ version: 5, stamp: "s1" });
    const { user, written } = shown(<DayPage />, answers, at);
    await screen.findByText("1 promise in danger");
    await user.click(blocks()[0] as HTMLElement);
    await user.click(panel().getByRole("button", { name: "+5 min" }));
    await waitFor(() => expect(written).toHaveLength(1));
    expect(written[0]?.body).toEqual({
      version: 4,
      free_all: false,
      locks: [
        { task: "a", worker: "tobi", start: 605 },
        { task: "b", worker: "tobi", start: 636 },
      ],
    });
  });

  it("opens a block by the keyboard and gives it to somebody else", async () => {
    answers[`PUT /api/days/${DAY}`] = sheet({ version: 5 });
    const { user, written } = shown(<DayPage />, answers, at);
    await screen.findByText("1 promise in danger");
    (blocks()[0] as unknown as SVGElement).focus();
    await user.keyboard("{Enter}");
    await user.click(panel().getByRole("combobox", { name: "Done by" }));
    await user.click(screen.getByRole("option", { name: "Nils Brandt" }));
    await waitFor(() => expect(written).toHaveLength(1));
    expect(written[0]?.body).toMatchObject({
      locks: [
        { task: "a", worker: "nils", start: 600 },
        { task: "b", worker: "nils", start: 631 },
      ],
    });
  });

  it("drags a block to another time in steps of five minutes", async () => {
    answers[`PUT /api/days/${DAY}`] = sheet({ version: 5 });
    const { written } = shown(<DayPage />, answers, at);
    const drawing = await screen.findByRole("group", { name: "The day from 8:00 to 5:00" });
    const width = Number(drawing.getAttribute("width"));
    const scale = (width - 98) / 540;
    const from = { clientX: 92 + 130 * scale, clientY: 80, button: 0, pointerId: 1 };
    fireEvent.pointerDown(blocks()[0] as HTMLElement, from);
    fireEvent.pointerMove(drawing, { ...from, clientX: from.clientX + 32 * scale });
    fireEvent.pointerUp(drawing, from);
    await waitFor(() => expect(written).toHaveLength(1));
    const body = written[0]?.body as { locks: { start: number }[] };
    expect(body.locks.map((one) => one.start)).toEqual([630, 661]);
  });

  it("tells at its car what was set by hand and cannot be kept, and lets it go", async () => {
    const why = "Back glass: Nils Brandt may not shrink.";
    const held = sheet({
      cannot: [{ job_id: "j1", why, least: "Give it to somebody else." }],
      decided: { ...sheet().decided, by_hand: ["a"] },
      tasks: sheet().tasks.map((one) => ({ ...one, locked: one.id === "a" })),
    });
    answers[`GET /api/days/${DAY}`] = held;
    answers[`PUT /api/days/${DAY}`] = sheet({ version: 5 });
    const { user, written } = shown(<DayPage />, answers, at);
    expect(await screen.findByText(why)).toBeVisible();
    await user.click(screen.getByRole("button", { name: /Back glass shrink.*put by hand$/ }));
    expect(panel().getByText(why)).toBeVisible();
    expect(panel().getByText(/put by hand/)).toBeVisible();
    await user.click(panel().getByRole("button", { name: "Let it go" }));
    await waitFor(() => expect(written).toHaveLength(1));
    expect(written[0]?.body).toMatchObject({ locks: [{ task: "a", worker: "", start: null }] });
  });

  it("lets go of a block that its car lost its place with", async () => {
    const { user, client } = shown(<DayPage />, answers, at);
    await screen.findByText("1 promise in danger");
    await user.click(blocks()[0] as HTMLElement);
    client.setQueryData(
      ["day", "sheet", DAY],
      sheet({ tasks: [], decided: { ...sheet().decided, by_hand: ["a", "b"] } }),
    );
    expect(await panel().findByText("It was put by hand and is not planned.")).toBeVisible();
    expect(panel().getByRole("button", { name: "Let it go" })).toBeEnabled();
    client.setQueryData(["day", "sheet", DAY], sheet({ tasks: [] }));
    expect(await panel().findByText("It is done or no longer planned.")).toBeVisible();
    expect(panel().queryByRole("button", { name: "Let it go" })).toBeNull();
  });

  it("asks what would save a promise only where it is in danger, and says what that costs others", async () => {
    answers[`GET /api/days/${DAY}/rescue/j2`] = {
      ways: [
        { words: "30 min more overtime for everybody", chance: 0.94, costs: "" },
        { words: "Work on it before all others", chance: 0.97, costs: "endangers Larkspur GT coupe" },
      ],
    };
    const { user } = shown(<DayPage />, answers, at);
    await user.click(await screen.findByRole("button", { name: /Halden Drover crew cab: promised for/ }));
    await user.click(panel().getByRole("button", { name: "What would save it?" }));
    expect(
      await panel().findByText(/Work on it before all others, but endangers Larkspur GT coupe/),
    ).toBeVisible();
    await user.click(screen.getByRole("row", { name: /1002/ }));
    expect(panel().queryByRole("button", { name: "What would save it?" })).toBeNull();
  });

  it.each([
    ["Tobi Lund is here", { away: { tobi: "is away" } }],
    ["Cold or wet: drying takes longer", { damp: true }],
    ["No sun in the yard", { no_sun: true }],
    ["Cut Dusk 35 for 2 cars together: saves 6 min", { together: ["f1"] }],
  ])("decides “%s” in one touch", async (label, said) => {
    answers[`PUT /api/days/${DAY}`] = sheet({ version: 5 });
    const { user, written } = shown(<DayPage />, answers, at);
    await user.click(await screen.findByRole("checkbox", { name: label }));
    await waitFor(() => expect(written).toHaveLength(1));
    expect(written[0]?.body).toEqual({ version: 4, free_all: false, ...said });
  });

  it("keeps overtime between none and five hours", async () => {
    answers[`PUT /api/days/${DAY}`] = sheet({ version: 5 });
    answers[`GET /api/days/${DAY}`] = sheet({ decided: { ...sheet().decided, overtime: 295 } });
    const { user, written } = shown(<DayPage />, answers, at);
    await user.click(await screen.findByRole("button", { name: "More overtime" }));
    await waitFor(() => expect(written).toHaveLength(1));
    expect(written[0]?.body).toMatchObject({ overtime: 300 });
  });

  it("takes what another decided first, says so, and loses nothing that stands", async () => {
    answers[`PUT /api/days/${DAY}`] = refused(
      409,
      "Somebody decided meanwhile. Look at it and decide again.",
    );
    const { user } = shown(<DayPage />, answers, at);
    await user.click(await screen.findByRole("checkbox", { name: "No sun in the yard" }));
    expect(await screen.findByText("Somebody decided meanwhile. Look at it and decide again.")).toBeVisible();
    expect(blocks()).toHaveLength(2);
  });

  it("looks for a better plan once, not for each answer that comes", async () => {
    answers[`GET /api/days/${DAY}`] = sheet({ looked: false });
    answers[`POST /api/days/${DAY}/plan`] = sheet({ looked: true, task_id: "t9" });
    answers["POST /api/tasks/t9/cancel"] = { id: "t9", status: "cancelled" };
    const { user, written } = shown(<DayPage />, answers, at);
    await user.click(await screen.findByRole("button", { name: "Stop, keep the best" }));
    await waitFor(() => expect(written.map((one) => one.to)).toContain("POST /api/tasks/t9/cancel"));
    expect(written.filter((one) => one.to.endsWith("/plan"))).toHaveLength(1);
  });

  it("says what to do on a day without cars, and goes from day to day by key", async () => {
    const none = sheet({ cars: [], tasks: [], danger: [], headline: "No car is booked for this day" });
    answers[`GET /api/days/${DAY}`] = none;
    answers["GET /api/days/2026-11-28"] = { ...none, day: "2026-11-28" };
    answers["GET /api/days/2026-11-28/stamp"] = { stamp: "s1" };
    const { user, router } = shown(<DayPage />, answers, at);
    expect(await screen.findByText(/No car comes on this day/)).toBeVisible();
    expect(screen.queryByText(/cars wait/)).toBeNull();
    await user.keyboard("]");
    await waitFor(() => expect(router.state.location.pathname).toBe("/day/2026-11-28"));
    await user.keyboard("[[");
    await waitFor(() => expect(router.state.location.pathname).toBe(`/day/${DAY}`));
  });
});

describe("booking a car", () => {
  const booking = (more: object = {}) => ({
    version: 0,
    job_version: 3,
    day: "",
    drop_off_at: null,
    pick_up_from: null,
    pick_up_until: null,
    promised_at: null,
    waits_here: false,
    note: "",
    promises: [],
    ...more,
  });
  const job = { id: "j6", number: 1006, vehicle_label: "Brisk Van", customer: "T. Orr" };
  let answers: Answers;
  const at = { at: `/day/${DAY}?book=j6`, path: "/day/:day" };
  beforeEach(() => {
    answers = {
      "GET /api/session": session(),
      [`GET /api/days/${DAY}`]: sheet(),
      [`GET /api/days/${DAY}/stamp`]: { stamp: "s1" },
      "GET /api/board": { in_bays: [], next: [job], stuck: [] },
      "GET /api/jobs/j6/booking": booking(),
    };
  });

  it.each([
    ["taken over first", true],
    ["booked as it was found", false],
  ])("promises the earliest honest time with its chance, in the shop's own zone, %s", async (_, taken) => {
    answers["GET /api/jobs/j6/promise?drop_off_at=2026-11-27T14%3A30%3A00.000Z"] = {
      at: "2026-11-27T21:15:00Z",
      day: DAY,
      drop_off_at: "2026-11-27T14:30:00Z",
      kept: 0.93,
      words: "Friday 3:15 PM",
      told: ["No other promise falls."],
    };
    answers["PUT /api/jobs/j6/booking"] = booking({ version: 1, day: DAY });
    const { user, written } = shown(<DayPage />, answers, at);
    await user.click(await screen.findByRole("button", { name: "Earliest honest time" }));
    expect(await screen.findByText("Friday 3:15 PM, kept on 93 of 100 days")).toBeVisible();
    // What was found is what is booked; it can also be taken over first and changed.
    if (taken) {
      await user.click(screen.getByRole("button", { name: "Promise this" }));
      expect(screen.getByLabelText("Promised for")).toHaveValue("2026-11-27T15:15");
    }
    await user.click(screen.getByRole("button", { name: "Book" }));
    await waitFor(() => expect(written).toHaveLength(1));
    expect(written[0]?.body).toMatchObject({
      version: 0,
      job_version: 3,
      drop_off_at: "2026-11-27T14:30:00.000Z",
      promised_at: "2026-11-27T21:15:00.000Z",
      chance: 0.93,
      waits_here: false,
    });
  });

  it("books no time that was found for another arrival", async () => {
    answers["GET /api/jobs/j6/promise?drop_off_at=2026-11-27T14%3A30%3A00.000Z"] = {
      at: "2026-11-27T21:15:00Z",
      day: DAY,
      drop_off_at: "2026-11-27T14:30:00Z",
      kept: 0.93,
      words: "Friday 3:15 PM",
      told: [],
    };
    const { user } = shown(<DayPage />, answers, at);
    await user.click(await screen.findByRole("button", { name: "Earliest honest time" }));
    expect(await screen.findByText("Friday 3:15 PM, kept on 93 of 100 days")).toBeVisible();
    fireEvent.change(screen.getByLabelText("Comes"), { target: { value: "2026-11-27T11:00" } });
    expect(screen.getByRole("button", { name: "Book without a promise" })).toBeVisible();
  });

  it("books without a promise only where the button says so", async () => {
    answers["PUT /api/jobs/j6/booking"] = booking({ version: 1 });
    const { user, written } = shown(<DayPage />, answers, at);
    await user.click(await screen.findByRole("button", { name: "Book without a promise" }));
    await waitFor(() => expect(written).toHaveLength(1));
    expect(written[0]?.body).toMatchObject({ promised_at: null, chance: null });
  });

  it("keeps no chance with a time that nobody reckoned", async () => {
    answers["PUT /api/jobs/j6/booking"] = booking({ version: 1 });
    const { user, written } = shown(<DayPage />, answers, at);
    fireEvent.change(await screen.findByLabelText("Promised for"), { target: { value: "2026-11-27T13:00" } });
    await user.click(screen.getByRole("checkbox", { name: "The customer waits here" }));
    await user.click(screen.getByRole("button", { name: "Book" }));
    await waitFor(() => expect(written).toHaveLength(1));
    expect(written[0]?.body).toMatchObject({
      chance: null,
      waits_here: true,
      promised_at: "2026-11-27T19:00:00.000Z",
    });
  });

  it("says at its field why a promise cannot be, and keeps what was typed", async () => {
    answers["PUT /api/jobs/j6/booking"] = refused(422, "It is promised before anybody can begin.", {
      promised_at: "Promise 10:15 AM or later.",
    });
    const { user } = shown(<DayPage />, answers, at);
    await user.type(await screen.findByLabelText("Note"), "key in the box");
    fireEvent.change(screen.getByLabelText("Promised for"), { target: { value: "2026-11-27T08:31" } });
    await user.click(screen.getByRole("button", { name: "Book" }));
    expect(await screen.findByText("Promise 10:15 AM or later.")).toBeVisible();
    expect(screen.getByLabelText("Note")).toHaveValue("key in the box");
    expect(screen.getByRole("dialog", { name: "Book a car" })).toBeVisible();
  });

  it("takes a booking back", async () => {
    answers["GET /api/jobs/j6/booking"] = booking({
      version: 2,
      day: DAY,
      drop_off_at: "2026-11-27T15:00:00Z",
    });
    answers["POST /api/jobs/j6/booking/remove"] = booking({ version: 3 });
    const { user, written } = shown(<DayPage />, answers, at);
    await user.click(await screen.findByRole("button", { name: "Take the booking back" }));
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    expect(written.map((one) => [one.to, one.body])).toEqual([
      ["POST /api/jobs/j6/booking/remove", { version: 2 }],
    ]);
  });
});

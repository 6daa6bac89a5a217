import { expect, test } from "vitest";
import { cardsOf, clock, concerned, isDone, meanwhile, moved, standsAt, withPending } from "./bay";
import type { Bay, BayEvent, Run, Step } from "./bay";

const step = (key: string, over: Partial<Step> = {}): Step => ({
  key,
  phase: "cut",
  say: key,
  check: "",
  caution: "",
  caution_seen: false,
  why: "",
  section: "6",
  more: "",
  tools: [],
  minutes: 1,
  wait: 0,
  at: "",
  round: "",
  special: false,
  again: false,
  branch: "",
  done: null,
  ...over,
});

const run = (name: string, steps: Step[], over: Partial<Run> = {}): Run => ({
  name,
  window_id: name,
  label: name,
  strip: false,
  refusal: "",
  held: "",
  film: "f",
  scrap: [],
  steps,
  blocks: [
    {
      key: `block:${name}`,
      phase: "cut",
      words: "Cut",
      keys: steps.map((one) => one.key),
      minutes: steps.length,
      own: 0,
      wait: 0,
    },
  ],
  next: steps[0]?.key ?? null,
  waits_until: null,
  waits_for: "",
  paused: false,
  paused_by: "",
  taken_by: "",
  begun: false,
  done: false,
  minutes_left: steps.length,
  cuts_again: false,
  twin: "",
  mishap: "",
  dropped: 0,
  ...over,
});

const bay = (...runs: Run[]): Bay => ({
  job_id: "j",
  title: "",
  now: "2026-11-26T10:00:00Z",
  steps_version: "1",
  learner: false,
  home: false,
  lead: true,
  day: {
    glass_c: null,
    shop_c: null,
    humidity: null,
    outside_low_c: null,
    sun: "none",
    wind: false,
    said: false,
    stop: "",
    go_on: "",
    told: [],
    soap: "",
    soap_rich: "",
    soap_ml_per_l: 1,
    cure_days: 3,
    area: "",
  },
  order: runs.map((one) => ({ window_id: one.name, why: "" })),
  proposed: [],
  runs,
  apart: [],
  hatch_held: false,
  hatch_reason: "",
  wrongs: [],
  times: [],
  headline: "",
  told: [],
  refused: [],
});

const event = (id: string, kind: BayEvent["kind"], over: Partial<BayEvent> = {}): BayEvent => ({
  id,
  kind,
  happened_at: new Date().toISOString(),
  ...over,
});

test("plain steps of a phase share a card; what is special, dries or is done again stands alone", () => {
  const steps = [
    step("a"),
    step("b"),
    step("c", { special: true }),
    step("d", { wait: 5 }),
    step("e"),
    step("f", { again: true }),
  ];
  const cards = cardsOf(run("w", steps), false);
  expect(cards.map((one) => one.steps.map((each) => each.key))).toEqual([
    ["a", "b"],
    ["c"],
    ["d"],
    ["e"],
    ["f"],
  ]);
  expect(cards.every((one) => one.level === "step")).toBe(true);
  expect(cardsOf(run("w", [step("a"), step("b")]), false)[0]?.level).toBe("phase");
  expect(cardsOf(run("w", steps), true)).toHaveLength(6);
});

test("a run stands at the first card with something open", () => {
  const done = { event_id: "x", at: "2026-11-26T10:00:00Z", person: "A", also: [], already: false };
  const cards = cardsOf(run("w", [step("a", { done }), step("b")]), true);
  expect(cards.map(isDone)).toEqual([true, false]);
  expect(standsAt(cards)).toBe(1);
  expect(standsAt([])).toBe(0);
});

test("what this screen did shows at once, and only on its own run", () => {
  const before = bay(run("w", [step("a"), step("b", { wait: 5 }), step("c")]), run("v", [step("a")]));
  const tick = event("t", "tick", { window_id: "w", steps: ["a", "b"] });
  const [w, v] = withPending(before, [tick], "Ada").runs;
  expect(w?.steps.map((one) => one.done?.person)).toEqual(["Ada", "Ada", undefined]);
  expect(w?.next).toBe("c");
  expect(w?.waits_until).not.toBeNull();
  expect(v?.begun).toBe(false);
  const undone = withPending(before, [tick, event("u", "undo", { event: "t" })], "Ada").runs[0];
  expect(undone?.begun).toBe(false);
  expect(withPending(before, [], "Ada")).toBe(before);
});

test("ticks of old film do not count for new film on the same window", () => {
  const before = bay(run("w", [step("a")]), run("strip:w", [step("a")], { window_id: "w", strip: true }));
  const [film, strip] = withPending(
    before,
    [event("t", "tick", { window_id: "w", run: "strip", steps: ["a"] })],
    "Ada",
  ).runs;
  expect(film?.done).toBe(false);
  expect(strip?.done).toBe(true);
});

test("while one window dries the next in order that is free is offered", () => {
  const found = bay(
    run("a", [step("x")], { waits_until: "2026-11-26T11:00:00Z" }),
    run("b", [step("x")], { taken_by: "Ben" }),
    run("c", [step("x")], { paused: true }),
    run("d", [step("x")]),
    run("end", [step("x")], { window_id: null }),
  );
  const now = Date.parse("2026-11-26T10:30:00Z");
  expect(meanwhile(found, "a", "Ada", now)?.name).toBe("d");
  expect(meanwhile(found, "a", "Ben", now)?.name).toBe("b");
  expect(meanwhile(bay(run("a", [step("x")])), "a", "Ada", now)).toBeNull();
});

test("time that is left reads as on a clock", () => {
  expect(clock(359_000)).toBe("5:59");
  expect(clock(0)).toBe("0:00");
  expect(clock(-5)).toBe("0:00");
  expect(clock(12 * 3_600_000)).toBe("12:00:00");
});

test("an entry is moved within its list", () => {
  expect(moved(["a", "b", "c"], 0, 2)).toEqual(["b", "c", "a"]);
  expect(moved(["a", "b", "c"], 2, 0)).toEqual(["c", "a", "b"]);
  expect(moved(["a"], 5, 0)).toEqual(["a"]);
});

test("the edges that a step is about are those whose outward side looks that way", () => {
  const ring = [
    [0, 0],
    [10, 0],
    [9, 5],
    [1, 5],
  ];
  expect(concerned(ring, "top")).toEqual([{ from: [9, 5], to: [1, 5] }]);
  expect(concerned(ring, "foot")).toEqual([{ from: [0, 0], to: [10, 0] }]);
  expect(concerned(ring, "right")).toEqual([{ from: [10, 0], to: [9, 5] }]);
  expect(concerned(ring, "sides")).toHaveLength(2);
  expect(concerned(ring, "all")).toHaveLength(4);
  expect(concerned(ring, "wiper")).toEqual([]);
});

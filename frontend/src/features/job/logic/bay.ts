import type { Schemas } from "../../../api/client";

export type Bay = Schemas["BayOut"];
export type Run = Schemas["RunOut"];
export type Step = Schemas["StepOut"];
export type Block = Schemas["BlockOut"];
export type BayEvent = Schemas["EventIn"];
/** Under whose name something happened. */
export type Hand = Pick<Schemas["SeatedOut"], "id" | "name">;
/** What happened on this screen and is not with the server yet. */
export type KeptEvent = BayEvent & { by?: Hand };

/** One screen of a run: a step by itself, or the plain steps of a phase together. */
export interface Card {
  key: string;
  words: string;
  steps: Step[];
  /** How its tick counts: a whole phase, or steps. */
  level: "phase" | "step";
  minutes: number;
  own: number;
}

/** What a professional does unprompted is ticked together; what is special on this car stands by itself. */
function standsAlone(step: Step): boolean {
  return step.special || step.again || step.wait > 0;
}

/** The screens of a run. Unfolded, as learners see it, every step has its own. */
export function cardsOf(run: Run, unfolded: boolean): Card[] {
  const byKey = new Map(run.steps.map((step) => [step.key, step]));
  const cards: Card[] = [];
  for (const block of run.blocks) {
    const steps = block.keys.flatMap((key) => byKey.get(key) ?? []);
    let plain: Step[] = [];
    const close = () => {
      if (plain.length) cards.push(card(block, plain, steps.length));
      plain = [];
    };
    for (const step of steps) {
      if (unfolded || standsAlone(step)) {
        close();
        cards.push(card(block, [step], steps.length));
      } else plain.push(step);
    }
    close();
  }
  return cards;
}

function card(block: Block, steps: Step[], all: number): Card {
  const whole = steps.length === all;
  return {
    key: steps[0]?.key ?? block.key,
    words: block.words,
    steps,
    level: whole && all > 1 ? "phase" : "step",
    minutes: whole ? block.minutes : steps.reduce((sum, step) => sum + step.minutes, 0),
    own: whole ? block.own : 0,
  };
}

export const isDone = (card: Card) => card.steps.every((step) => step.done !== null);

/** Where the run stands: the first card with something to do. */
export function standsAt(cards: readonly Card[]): number {
  const open = cards.findIndex((one) => !isDone(one));
  return open < 0 ? cards.length : open;
}

const belongsTo = (event: BayEvent, run: Run): boolean => {
  if ((event.run === "strip") !== run.strip) return false;
  if (run.window_id !== null) return event.window_id === run.window_id;
  return (event.window_id ?? null) === null && (event.run ?? run.name) === run.name;
};

/** The work with what this screen did and could not send yet. */
export function withPending(bay: Bay, pending: readonly KeptEvent[], person: string): Bay {
  if (pending.length === 0) return bay;
  return { ...bay, runs: bay.runs.map((run) => runWith(run, pending, person)) };
}

function runWith(run: Run, pending: readonly KeptEvent[], person: string): Run {
  const own = pending.filter((event) => belongsTo(event, run) || event.kind === "undo");
  if (own.length === 0) return run;
  const undone = new Set(own.filter((event) => event.kind === "undo").map((event) => event.event));
  const ticks = new Map<string, { id: string; at: string; person: string }>();
  for (const event of own)
    if (event.kind === "tick" && !undone.has(event.id))
      for (const key of event.steps ?? [])
        if (!ticks.has(key))
          ticks.set(key, { id: event.id, at: event.happened_at, person: event.by?.name ?? person });
  const steps = run.steps.map((step) => {
    const taken = step.done !== null && undone.has(step.done.event_id);
    const tick = ticks.get(step.key);
    const done = step.done !== null && !taken ? step.done : null;
    if (done === null && tick)
      return {
        ...step,
        done: { event_id: tick.id, at: tick.at, person: tick.person, also: [], already: false },
      };
    return { ...step, done };
  });
  return { ...run, steps, ...standing(steps) };
}

/** What follows from the steps that are done. */
function standing(steps: readonly Step[]) {
  const next = steps.findIndex((step) => step.done === null);
  const before = next < 0 ? [] : steps.slice(0, next);
  let ready = 0;
  let waits_for = "";
  for (const step of before)
    if (step.wait > 0 && step.done) {
      const at = Date.parse(step.done.at) + 60_000 * step.wait;
      if (at > ready) {
        ready = at;
        waits_for = step.say;
      }
    }
  return {
    next: next < 0 ? null : (steps[next]?.key ?? null),
    done: steps.length > 0 && next < 0,
    begun: steps.some((step) => step.done !== null),
    waits_until: ready > Date.now() ? new Date(ready).toISOString() : null,
    waits_for,
    minutes_left: steps.reduce((sum, step) => sum + (step.done ? 0 : step.minutes), 0),
  };
}

/** Another window that can be worked on while this one waits. */
export function meanwhile(bay: Bay, here: string, person: string, now: number): Run | null {
  const order = bay.order.map((one) => one.window_id);
  const rank = (run: Run) => (run.window_id === null ? -1 : order.indexOf(run.window_id));
  const open = bay.runs
    .filter((run) => run.name !== here && run.name !== "end" && run.next !== null && !run.paused)
    .filter((run) => run.waits_until === null || Date.parse(run.waits_until) <= now)
    .filter((run) => run.taken_by === "" || run.taken_by === person);
  return [...open].sort((a, b) => rank(a) - rank(b))[0] ?? null;
}

/** Minutes and seconds that are left. */
export function clock(milliseconds: number): string {
  const seconds = Math.max(0, Math.ceil(milliseconds / 1000));
  const hours = Math.floor(seconds / 3600);
  const rest = `${String(Math.floor((seconds % 3600) / 60)).padStart(hours ? 2 : 1, "0")}:${String(seconds % 60).padStart(2, "0")}`;
  return hours ? `${String(hours)}:${rest}` : rest;
}

/** A list with one entry moved. */
export function moved<Entry>(list: readonly Entry[], from: number, to: number): Entry[] {
  const copy = [...list];
  const [one] = copy.splice(from, 1);
  if (one !== undefined) copy.splice(Math.min(Math.max(to, 0), copy.length), 0, one);
  return copy;
}

type Point = readonly number[];

/** The stretches of a pane's outline, seen from outside and counter-clockwise, that a step is about. */
export function concerned(ring: readonly Point[], at: string): { from: Point; to: Point }[] {
  const found: { from: Point; to: Point }[] = [];
  ring.forEach((from, i) => {
    const to = ring[(i + 1) % ring.length] ?? from;
    if (edgesOf(at).includes(edgeOf(from, to))) found.push({ from, to });
  });
  return found;
}

const EDGES: Record<string, string[]> = {
  top: ["top"],
  foot: ["foot"],
  left: ["left"],
  right: ["right"],
  sides: ["left", "right"],
  all: ["top", "foot", "left", "right"],
  border: ["top", "foot", "left", "right"],
};
const edgesOf = (at: string) => EDGES[at] ?? [];

function edgeOf([x0 = 0, y0 = 0]: Point, [x1 = 0, y1 = 0]: Point): string {
  const length = Math.hypot(x1 - x0, y1 - y0) || 1;
  const out = [(y1 - y0) / length, -(x1 - x0) / length] as const;
  if (out[1] > Math.SQRT1_2) return "top";
  if (out[1] < -Math.SQRT1_2) return "foot";
  return out[0] > 0 ? "right" : "left";
}

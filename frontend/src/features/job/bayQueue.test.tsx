import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { queueOf, sitDown, type Queue } from "./bayQueue";
import type { BayEvent } from "./logic/bay";

const event = (id: string): BayEvent => ({
  id,
  kind: "tick",
  happened_at: "2026-11-27T10:00:00Z",
  step: "press",
});
const taken = { refused: [] };
const says = (status: number, code: string, message = code) => ({
  status,
  body: { code, message, fields: {} },
});

/** What is wrong with a batch, or nothing; or no server at all. */
type Answer = (ids: string[]) => { status: number; body: object } | "away" | null;

describe("what happened in the bay, on its way to the server", () => {
  let sent: string[][];
  let answer: Answer;
  let number = 0;
  let queue: Queue;
  beforeEach(() => {
    vi.useFakeTimers();
    sent = [];
    answer = () => null;
    vi.stubGlobal("fetch", async (request: Request) => {
      const ids = (JSON.parse(await request.text()) as { events: BayEvent[] }).events.map((one) => one.id);
      const said = answer(ids);
      if (said === "away") throw new TypeError("no server");
      sent.push(ids);
      return said ? Response.json(said.body, { status: said.status }) : Response.json(taken);
    });
    number += 1;
    queue = queueOf(`job-${String(number)}`);
  });
  afterEach(() => {
    vi.useRealTimers();
    localStorage.clear();
  });
  const kept = () =>
    JSON.parse(localStorage.getItem(`elumbra.bay.job-${String(number)}`) ?? "[]") as BayEvent[];
  const ids = (events: readonly BayEvent[]) => events.map((one) => one.id);
  const after = (ms: number) => vi.advanceTimersByTimeAsync(ms);

  it("goes at once, and is gone from here when it is there", async () => {
    queue.add(event("a"));
    expect(ids(kept())).toEqual(["a"]);
    await after(0);
    expect([sent, queue.pending(), kept()]).toEqual([[["a"]], [], []]);
  });

  it("waits in the browser while the server is away, and arrives in order, once", async () => {
    answer = () => "away";
    for (const id of ["a", "b", "c"]) queue.add(event(id));
    await after(10_000);
    expect([sent, ids(kept()), queue.problem]).toEqual([[], ["a", "b", "c"], ""]);
    answer = () => null;
    await after(3000);
    expect([sent, queue.pending()]).toEqual([[["a", "b", "c"]], []]);
    await after(10_000);
    expect(sent).toHaveLength(1);
  });

  it.each([
    ["a full disk", 507, "disk_full"],
    ["a file that may only be read", 507, "read_only"],
    ["too many calls", 429, "too_many"],
    ["a person who is not signed in any more", 401, "no_person"],
    ["a person who may not", 403, "not_your_role"],
    ["a job that was taken off the lists", 404, "not_found"],
  ])("loses nothing by %s: says why and goes on trying", async (_, status, code) => {
    answer = () => says(status, code, "Why, and the mend.");
    let told = 0;
    queue.subscribe(() => (told += 1));
    queue.add(event("a"));
    queue.add(event("b"));
    told = 0;
    await after(0);
    expect([ids(queue.pending()), queue.problem]).toEqual([["a", "b"], "Why, and the mend."]);
    expect(told).toBeGreaterThan(0);
    await after(9000);
    expect(ids(kept())).toEqual(["a", "b"]);
    answer = () => null;
    await after(3000);
    expect([queue.pending(), kept(), queue.problem]).toEqual([[], [], ""]);
  });

  it("says nothing of what passes by itself", async () => {
    answer = () => says(503, "busy", "Somebody else is writing.");
    queue.add(event("a"));
    await after(6000);
    expect([ids(queue.pending()), queue.problem]).toEqual([["a"], ""]);
  });

  it("gives up the one that can never be taken, not those beside it, and says so until something new happens", async () => {
    answer = () => "away";
    for (const id of ["a", "odd", "b", "c"]) queue.add(event(id));
    await after(0);
    answer = (batch) => (batch.includes("odd") ? says(422, "invalid", "odd: no such step.") : null);
    await after(3000);
    expect(sent).toEqual([["a", "odd", "b", "c"], ["a"], ["odd"], ["b"], ["c"]]);
    expect([queue.pending(), queue.problem]).toEqual([[], "odd: no such step."]);
    queue.add(event("d"));
    await after(0);
    expect([sent.at(-1), queue.problem]).toEqual([["d"], ""]);
    answer = () => "away";
    for (const id of ["e", "f"]) queue.add(event(id));
    await after(0);
    answer = () => null;
    await after(3000);
    expect(sent.at(-1)).toEqual(["e", "f"]);
  });

  it("takes in what another tab of this browser did", async () => {
    answer = () => "away";
    queue.add(event("a"));
    await after(0);
    const key = `elumbra.bay.job-${String(number)}`;
    localStorage.setItem(key, JSON.stringify([event("a"), event("theirs")]));
    window.dispatchEvent(new StorageEvent("storage", { key }));
    expect(ids(queue.pending())).toEqual(["a", "theirs"]);
    answer = () => null;
    window.dispatchEvent(new Event("online"));
    await after(0);
    expect(sent).toContainEqual(["a", "theirs"]);
    expect(queue.pending()).toEqual([]);
  });

  it("is sent from any page once its person sits here, also of a car that nobody opened since", async () => {
    localStorage.setItem("elumbra.bay.unfolded", JSON.stringify("yes"));
    localStorage.setItem("elumbra.bay.job-left", JSON.stringify([event("left")]));
    sitDown({ id: "tobi", name: "Tobi Lund" });
    await after(0);
    expect(sent).toContainEqual(["left"]);
    expect(localStorage.getItem("elumbra.bay.job-left")).toBe("[]");
    expect(localStorage.getItem("elumbra.bay.unfolded")).toBe('"yes"');
  });

  it("goes under the name of whom it happened under: another's waits until he sits here again", async () => {
    answer = () => "away";
    sitDown({ id: "tobi", name: "Tobi Lund" });
    queue.add(event("his"));
    await after(0);
    answer = () => null;
    sitDown({ id: "mara", name: "Mara Quist" });
    queue.add(event("hers"));
    await after(3000);
    expect(sent).toContainEqual(["hers"]);
    expect(sent.flat()).not.toContain("his");
    expect(queue.problem).toMatch(/^1 thing done under the name of Tobi Lund: kept in this browser/);
    sitDown({ id: "tobi", name: "Tobi Lund" });
    await after(0);
    expect(sent).toContainEqual(["his"]);
    expect([kept(), queue.problem]).toEqual([[], ""]);
  });
});

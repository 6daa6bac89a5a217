import { useSyncExternalStore } from "react";
import { api, newWriteId, writeHeaders } from "../../api/client";
import { Problem, unwrap } from "../../api/unwrap";
import { counted, isListOf, isText, keepStored, readStored } from "../../shared";
import type { Bay, BayEvent, Hand, KeptEvent } from "./logic/bay";

const RETRY_MS = 3000;
const AT_ONCE = 200;
/** What is wrong with the events themselves: sent again they would be refused again. All else passes or is mended. */
const FOR_GOOD = new Set(["bad_request", "invalid", "refused", "too_large", "unsupported_media"]);
/** What passes by itself and is not worth a word. */
const PASSING = new Set(["busy", "server_error"]);

const PREFIX = "elumbra.bay.";

type Listener = () => void;
type Unit = "in" | "mm";

const isEvent = (value: unknown): value is KeptEvent =>
  typeof value === "object" &&
  value !== null &&
  isText((value as BayEvent).id) &&
  isText((value as BayEvent).kind) &&
  isText((value as BayEvent).happened_at);

/** Who sits here. */
let seated: Hand | null = null;

/**
 * What happened on this screen and is not with the server yet. It is kept in the browser, sent in order as soon
 * as the server answers, and sent again until it does: the server keeps each event once. It goes under the name of
 * whom it happened under; what is another's waits until he sits here again.
 */
class Queue {
  private readonly key: string;
  private events: readonly KeptEvent[];
  private readonly listeners = new Set<Listener>();
  private sending = false;
  private atOnce = AT_ONCE;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private neverTaken = "";
  problem = "";
  private unit: Unit = "in";
  private onAnswer: (bay: Bay) => void = () => undefined;

  constructor(private readonly jobId: string) {
    this.key = PREFIX + jobId;
    this.events = readStored(localStorage, this.key, isListOf(isEvent), []);
    window.addEventListener("online", () => void this.send());
    window.addEventListener("storage", (event) => {
      // Another tab of this browser works on the same car.
      if (event.key === this.key) this.set(readStored(localStorage, this.key, isListOf(isEvent), []), false);
    });
  }

  readonly subscribe = (listener: Listener): Listener => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Who is told what the server answered, in which unit; what was sent stands on the screen until that is done. */
  answerTo(unit: Unit, listener: (bay: Bay) => void): void {
    this.unit = unit;
    this.onAnswer = listener;
  }

  readonly pending = (): readonly KeptEvent[] => this.events;

  add(event: BayEvent): void {
    this.neverTaken = "";
    this.set([...this.events, seated ? { ...event, by: seated } : event]);
    void this.send();
  }

  async send(): Promise<void> {
    if (this.sending || this.events.length === 0) return;
    const batch = this.events.filter((one) => !one.by || one.by.id === seated?.id).slice(0, this.atOnce);
    if (batch.length === 0) {
      if (seated) this.say(waitsFor(this.events));
      return;
    }
    this.sending = true;
    clearTimeout(this.timer);
    let goOn = true;
    try {
      const bay = await unwrap(
        api.POST("/api/jobs/{id}/bay/events", {
          params: { path: { id: this.jobId } },
          body: { sent_at: new Date().toISOString(), events: batch.map(asHappened), unit: this.unit },
          headers: writeHeaders(newWriteId()),
        }),
      );
      this.problem = [this.neverTaken, ...bay.refused.map((one) => one.why)].filter(Boolean).join(" ");
      this.onAnswer(bay);
      this.drop(batch);
      if (this.events.length === 0) this.atOnce = AT_ONCE;
    } catch (error) {
      const refused = error instanceof Problem ? error : null;
      if (!refused || !FOR_GOOD.has(refused.code)) {
        goOn = false;
        this.later(refused);
      }
      // Which of them it was is found by sending them one by one; that one is said, and not sent again.
      else if (batch.length > 1) this.atOnce = 1;
      else {
        this.problem = this.neverTaken = refused.message;
        this.drop(batch);
      }
    } finally {
      this.sending = false;
    }
    if (goOn) void this.send();
  }

  private later(refused: Problem | null): void {
    if (refused && !PASSING.has(refused.code)) this.say(refused.message);
    this.timer = setTimeout(() => void this.send(), RETRY_MS);
  }

  private say(problem: string): void {
    if (problem === this.problem) return;
    this.problem = problem;
    this.set([...this.events], false);
  }

  private drop(batch: readonly KeptEvent[]): void {
    const gone = new Set(batch.map((event) => event.id));
    this.set(this.events.filter((event) => !gone.has(event.id)));
  }

  private set(events: readonly KeptEvent[], keep = true): void {
    this.events = events;
    if (keep) keepStored(localStorage, this.key, events);
    for (const listener of this.listeners) listener();
  }
}

const queues = new Map<string, Queue>();

export function queueOf(jobId: string): Queue {
  const found = queues.get(jobId) ?? new Queue(jobId);
  queues.set(jobId, found);
  return found;
}

/** Say who sits here; what waits in this browser under his name, of any car, is sent. */
export function sitDown(person: Hand): void {
  seated = { id: person.id, name: person.name };
  for (const key of Object.keys(localStorage))
    if (key.startsWith(PREFIX) && localStorage.getItem(key)?.startsWith("[{"))
      queueOf(key.slice(PREFIX.length));
  for (const queue of queues.values()) void queue.send();
}

function asHappened(kept: KeptEvent): BayEvent {
  const event = { ...kept };
  delete event.by;
  return event;
}

function waitsFor(events: readonly KeptEvent[]): string {
  const names = [...new Set(events.map((one) => one.by?.name))].join(" and ");
  return `${counted(events.length, "thing")} done under the name of ${names}: kept in this browser, sent when that person signs in here.`;
}

export function usePending(queue: Queue): readonly KeptEvent[] {
  return useSyncExternalStore(queue.subscribe, queue.pending);
}

export type { Queue };

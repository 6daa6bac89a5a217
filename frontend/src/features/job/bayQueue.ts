import { useSyncExternalStore } from "react";
import { api, newWriteId, writeHeaders } from "../../api/client";
import { Problem, unwrap } from "../../api/unwrap";
import { isListOf, isText, keepStored, readStored } from "../../shared";
import type { Bay, BayEvent } from "./logic/bay";

const RETRY_MS = 3000;
const AT_ONCE = 200;

type Listener = () => void;

const isEvent = (value: unknown): value is BayEvent =>
  typeof value === "object" &&
  value !== null &&
  isText((value as BayEvent).id) &&
  isText((value as BayEvent).kind) &&
  isText((value as BayEvent).happened_at);

/**
 * What happened on this screen and is not with the server yet. It is kept in the browser, sent in order as soon
 * as the server answers, and sent again until it does: the server keeps each event once.
 */
class Queue {
  private readonly key: string;
  private events: readonly BayEvent[];
  private readonly listeners = new Set<Listener>();
  private sending = false;
  private timer: ReturnType<typeof setTimeout> | undefined;
  problem = "";
  private onAnswer: (bay: Bay) => void = () => undefined;

  constructor(
    private readonly jobId: string,
    private readonly unit: () => "in" | "mm",
  ) {
    this.key = `elumbra.bay.${jobId}`;
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

  /** Who is told what the server answered; what was sent stands on the screen until that is done. */
  answerTo(listener: (bay: Bay) => void): void {
    this.onAnswer = listener;
  }

  readonly pending = (): readonly BayEvent[] => this.events;

  add(event: BayEvent): void {
    this.set([...this.events, event]);
    void this.send();
  }

  async send(): Promise<void> {
    if (this.sending || this.events.length === 0) return;
    this.sending = true;
    clearTimeout(this.timer);
    const batch = this.events.slice(0, AT_ONCE);
    try {
      const bay = await unwrap(
        api.POST("/api/jobs/{id}/bay/events", {
          params: { path: { id: this.jobId } },
          body: { sent_at: new Date().toISOString(), events: [...batch], unit: this.unit() },
          headers: writeHeaders(newWriteId()),
        }),
      );
      this.problem = bay.refused.map((one) => one.why).join(" ");
      this.onAnswer(bay);
      this.drop(batch);
    } catch (error) {
      if (error instanceof Problem && error.code !== "server_error" && error.code !== "busy") {
        // It will never be taken as it is: said once, and not sent again.
        this.problem = error.message;
        if (error.code !== "no_person") this.drop(batch);
      }
      this.timer = setTimeout(() => void this.send(), RETRY_MS);
    } finally {
      this.sending = false;
    }
    if (this.events.length > 0 && this.timer === undefined) void this.send();
  }

  private drop(batch: readonly BayEvent[]): void {
    const gone = new Set(batch.map((event) => event.id));
    this.timer = undefined;
    this.set(this.events.filter((event) => !gone.has(event.id)));
  }

  private set(events: readonly BayEvent[], keep = true): void {
    this.events = events;
    if (keep) keepStored(localStorage, this.key, events);
    for (const listener of this.listeners) listener();
  }
}

const queues = new Map<string, Queue>();

export function queueOf(jobId: string, unit: () => "in" | "mm"): Queue {
  const found = queues.get(jobId) ?? new Queue(jobId, unit);
  queues.set(jobId, found);
  return found;
}

export function usePending(queue: Queue): readonly BayEvent[] {
  return useSyncExternalStore(queue.subscribe, queue.pending);
}

export type { Queue };

import type { Frame, StrokeRow } from "../api";

/** Steps that may wait for the server; then the clock stands, as it does while the server is away. */
export const MOST_WAITING = 50;
export const STEP_MS = 100;
const RETRY_MS = 1500;

export type Send = (after: number, until: number, strokes: StrokeRow[]) => Promise<Frame>;

/** A refusal of what was sent, as against a server that does not answer. */
export class Refused extends Error {}

/**
 * The clock of a run on this screen. Each tick adds what the hands do in that tenth of a second; it is sent as
 * soon as the answer before is there. What was not answered is sent again: a step is played once, whatever comes.
 */
export class Player {
  frame: Frame;
  away = false;
  problem = "";
  private step: number;
  private rows: StrokeRow[] = [];
  private sending = false;
  private ended = false;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    frame: Frame,
    private readonly send: Send,
    private readonly told: () => void,
  ) {
    this.frame = frame;
    this.step = frame.step;
  }

  /** Whether the clock stands until the server has answered. */
  get waits(): boolean {
    return this.step - this.frame.step >= MOST_WAITING || this.away;
  }

  /** One tenth of a second, and what the hands did in it; the step is put in front of each. */
  tick(done: readonly StrokeRow[]): void {
    if (this.frame.over || this.waits || this.ended) return;
    for (const row of done) this.rows.push([this.step, ...row]);
    this.step += 1;
    void this.flush();
  }

  /** No more: the screen was left. */
  end(): void {
    this.ended = true;
    clearTimeout(this.timer);
  }

  async flush(): Promise<void> {
    if (this.sending || this.step === this.frame.step) return;
    this.sending = true;
    const sent = this.rows.length;
    const until = this.step;
    try {
      const frame = await this.send(this.frame.step, until, this.rows.slice(0, sent));
      this.away = false;
      this.problem = "";
      this.frame = frame;
      if (frame.taken) this.rows = this.rows.slice(sent);
      else this.startFrom(frame.step);
    } catch (error) {
      if (error instanceof Refused) {
        this.problem = error.message;
        this.startFrom(this.frame.step);
      } else {
        this.away = true;
        this.timer = setTimeout(() => void this.flush(), RETRY_MS);
      }
    } finally {
      this.sending = false;
    }
    this.told();
    if (!this.away && !this.ended && this.step > this.frame.step) void this.flush();
  }

  private startFrom(step: number): void {
    this.rows = [];
    this.step = step;
  }
}

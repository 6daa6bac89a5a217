import { describe, expect, it, vi } from "vitest";
import type { Frame, StrokeRow } from "../api";
import { MOST_WAITING, Player, Refused } from "./player";

const frame = (step: number, more: Partial<Frame> = {}): Frame =>
  ({ step, taken: true, over: false, events: [], ...more }) as Frame;

/** A server that keeps what it was sent, and answers when it is let. */
function server() {
  const got: { after: number; until: number; strokes: StrokeRow[] }[] = [];
  let step = 0;
  let answer: ((how: "answer" | "lose" | "refuse") => void) | undefined;
  const send = (after: number, until: number, strokes: StrokeRow[]) =>
    new Promise<Frame>((resolve, reject) => {
      answer = (how) => {
        if (how === "refuse") reject(new Refused("Stroke 1: no."));
        else {
          const taken = after === step;
          if (taken) {
            got.push({ after, until, strokes });
            step = until;
          }
          if (how === "lose") reject(new TypeError("failed to fetch"));
          else resolve(frame(step, { taken }));
        }
      };
    });
  return { got, send, answer: (how: "answer" | "lose" | "refuse" = "answer") => answer?.(how) };
}

const settle = () => vi.advanceTimersByTimeAsync(0);

describe("Player", () => {
  it("sends what hands did, step by step, while an answer is on its way", async () => {
    vi.useFakeTimers();
    const shop = server();
    const player = new Player(frame(0), shop.send, () => undefined);
    player.tick([["gun", 1, 2, 1, 60]]);
    player.tick([["card", 5, 5]]);
    player.tick([]);
    shop.answer();
    await settle();
    shop.answer();
    await settle();
    expect(shop.got).toEqual([
      { after: 0, until: 1, strokes: [[0, "gun", 1, 2, 1, 60]] },
      { after: 1, until: 3, strokes: [[1, "card", 5, 5]] },
    ]);
    expect(player.frame.step).toBe(3);
    vi.useRealTimers();
  });

  it("goes on where the server stands when an answer was lost: nothing is played twice", async () => {
    vi.useFakeTimers();
    const shop = server();
    const player = new Player(frame(0), shop.send, () => undefined);
    player.tick([["lift"]]);
    shop.answer("lose");
    await settle();
    expect(player.away).toBe(true);
    player.tick([["lift"]]);
    await vi.advanceTimersByTimeAsync(2000);
    shop.answer();
    await settle();
    expect(shop.got).toHaveLength(1);
    expect(player.frame.step).toBe(1);
    expect(player.away).toBe(false);
    vi.useRealTimers();
  });

  it("stands still once too much waits, and drops what was refused with its reason", async () => {
    vi.useFakeTimers();
    const shop = server();
    const player = new Player(frame(0), shop.send, () => undefined);
    for (let k = 0; k < MOST_WAITING + 20; k += 1) player.tick([]);
    expect(player.waits).toBe(true);
    shop.answer("refuse");
    await settle();
    expect(player.problem).toBe("Stroke 1: no.");
    expect(player.waits).toBe(false);
    expect(player.frame.step).toBe(0);
    vi.useRealTimers();
  });

  it("does nothing after the end", () => {
    const send = vi.fn();
    const player = new Player(frame(7, { over: true }), send, () => undefined);
    player.tick([["card", 1, 1]]);
    expect(send).not.toHaveBeenCalled();
  });
});

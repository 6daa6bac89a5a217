import { describe, expect, it } from "vitest";
import type { CarOn, TaskOn } from "../api";
import { blocksOf, clockOf, lettingGo, locksFor, tintOf } from "./blocks";

const task = (id: string, job: string, start: number, end: number, more: Partial<TaskOn> = {}): TaskOn => ({
  id,
  job_id: job,
  label: "Driver front",
  words: "cut",
  skill: "cut",
  place: "bay",
  worker: "w",
  start,
  end,
  wait_until: end,
  start_words: "",
  end_words: "",
  locked: false,
  ...more,
});

describe("blocks of a person's line", () => {
  it("joins tasks of one car that follow each other, whatever order they come in", () => {
    const found = blocksOf(
      [task("b", "x", 490, 500), task("a", "x", 480, 490), task("c", "y", 500, 505)],
      "w",
    );
    expect(found.map((one) => [one.jobId, one.start, one.end, one.tasks.length])).toEqual([
      ["x", 480, 500, 2],
      ["y", 500, 505, 1],
    ]);
  });

  it("parts where somebody else's car, a pause or drying lies between", () => {
    const drying = task("a", "x", 480, 490, { wait_until: 510 });
    expect(blocksOf([drying, task("b", "x", 490, 495)], "w")).toHaveLength(2);
    expect(blocksOf([task("a", "x", 480, 490), task("b", "x", 493, 495)], "w")).toHaveLength(2);
    expect(blocksOf([task("a", "x", 480, 490)], "other")).toEqual([]);
  });

  it("is locked where one of its tasks is", () => {
    const found = blocksOf([task("a", "x", 0, 5), task("b", "x", 5, 9, { locked: true })], "w");
    expect(found[0]?.locked).toBe(true);
  });

  it("keeps its tasks as far apart as they were where it is dropped: a minute between them is another's", () => {
    const [block] = blocksOf([task("a", "x", 480, 490), task("b", "x", 492, 497)], "w");
    expect(block && locksFor(block, "v", 600)).toEqual([
      { task: "a", worker: "v", start: 600 },
      { task: "b", worker: "v", start: 612 },
    ]);
    expect(lettingGo(["a"])).toEqual([{ task: "a", worker: "", start: null }]);
  });
});

describe("the axis", () => {
  const marks = [
    { minute: 480, words: "8:00" },
    { minute: 720, words: "12:00" },
    { minute: 780, words: "1:00" },
  ];
  it.each([
    [480, "8:00"],
    [505, "8:25"],
    [765, "12:45"],
    [785, "1:05"],
    [470, "7:50"],
  ])("minute %i is %s", (minute, words) => {
    expect(clockOf(minute, { marks })).toBe(words);
  });
  it("counts by the mark on a day on which clocks change", () => {
    expect(clockOf(425, { marks: [{ minute: 420, words: "8:00" }] })).toBe("8:05");
  });
  it("has a tint for every car and one for what is of several", () => {
    const tint = tintOf([{ job_id: "a" }, { job_id: "b" }] as CarOn[]);
    expect([tint("a"), tint("b"), tint("")]).toEqual([0, 1, 2]);
  });
});

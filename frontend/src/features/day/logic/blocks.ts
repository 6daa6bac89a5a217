import type { CarOn, Sheet, TaskOn } from "../api";

/** Tasks of one person on one car that follow each other: drawn as one block, with a line between them. */
export interface Block {
  key: string;
  worker: string;
  jobId: string;
  start: number;
  end: number;
  until: number;
  tasks: readonly TaskOn[];
  locked: boolean;
}

const GAP_MIN = 2;

export function blocksOf(tasks: readonly TaskOn[], worker: string): Block[] {
  const own = tasks.filter((task) => task.worker === worker).sort((a, b) => a.start - b.start);
  const found: Block[] = [];
  for (const task of own) {
    const last = found.at(-1);
    if (
      last &&
      last.jobId === task.job_id &&
      task.start - last.end <= GAP_MIN &&
      last.until <= task.start + GAP_MIN
    ) {
      found[found.length - 1] = {
        ...last,
        end: task.end,
        until: task.wait_until,
        tasks: [...last.tasks, task],
        locked: last.locked || task.locked,
      };
    } else
      found.push({
        key: task.id,
        worker,
        jobId: task.job_id,
        start: task.start,
        end: task.end,
        until: task.wait_until,
        tasks: [task],
        locked: task.locked,
      });
  }
  return found;
}

/** A minute as the axis counts: by the mark before it, so that a day on which clocks change reads right. */
export function clockOf(minute: number, sheet: Pick<Sheet, "marks">): string {
  const mark = [...sheet.marks].reverse().find((one) => one.minute <= minute) ?? sheet.marks[0];
  if (!mark) return "";
  const [hour = "0", past = "0"] = mark.words.replace(/^\D+/, "").split(":");
  const whole = Number(hour) * 60 + Number(past) + (minute - mark.minute);
  const shown = Math.floor(((whole % 720) + 720) % 720);
  return `${Math.floor(shown / 60) || 12}:${String(shown % 60).padStart(2, "0")}`;
}

/** Which of the tints a car has on the sheet. */
export function tintOf(cars: readonly CarOn[]): (jobId: string) => number {
  const place = new Map(cars.map((car, i) => [car.job_id, i]));
  return (jobId) => place.get(jobId) ?? cars.length;
}

/** What is put by hand when a block is dropped at another person or time: its tasks from there, as far apart as before. */
export const locksFor = (block: Block, worker: string, start: number) =>
  block.tasks.map((task) => ({ task: task.id, worker, start: start + task.start - block.start }));

/** What lets go of tasks that were put by hand. */
export const lettingGo = (tasks: readonly string[]) =>
  tasks.map((task) => ({ task, worker: "", start: null }));

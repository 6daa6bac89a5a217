import type { Schemas } from "../../api/client";

export type JobState = Schemas["State"];
export type Deed = Schemas["Deed"];

/** How a job stands, as a list says it. */
export const STATE_WORDS: Record<JobState, string> = {
  inquiry: "inquiry",
  booked: "booked",
  arrived: "here, not started",
  in_bay: "in the bay",
  paused: "paused",
  ready: "ready to go",
  delivered: "delivered",
  cancelled: "canceled",
  no_show: "no-show",
};

/** What a deed's button says. */
export const DEED_WORDS: Record<Deed, string> = {
  book: "Book",
  unbook: "Booking taken back",
  arrive: "Arrived",
  start: "Start",
  pause: "Pause",
  finish: "Ready",
  deliver: "Deliver",
  cancel: "Cancel job",
  no_show: "No-show",
  step_back: "Back one step",
};

/** Whether the car is in the shop. */
export const isHere = (state: JobState) => ["arrived", "in_bay", "paused", "ready"].includes(state);

/** Whether there is still something to do for it. */
export const isOpen = (state: JobState) => isHere(state) || state === "inquiry" || state === "booked";

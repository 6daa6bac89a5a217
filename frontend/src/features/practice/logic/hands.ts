import type { StrokeRow } from "../api";
import type { Place } from "./grid";

/** What is in the hand. */
export type Tool = "gun" | "card" | "glove" | "mist";
export const TOOLS: Readonly<Record<Tool, string>> = {
  gun: "Heat gun",
  card: "Card",
  glove: "Glove",
  mist: "Mist",
};

export interface Settings {
  tool: Tool;
  /** What the second hand presses with. */
  second: "card" | "glove";
  high: boolean;
  near: number;
  /** Whether the tutor says all the time what to do, or only when asked and at slips. */
  tutor: boolean;
}

export const BEGIN: Settings = { tool: "gun", second: "card", high: true, near: 60, tutor: true };

/** A finger, the mouse or a key that is down on the pane. */
export interface Contact {
  tool: Tool;
  place: Place;
}

/** What goes on at the pane: which contacts are down, by what they came from. */
export type Down = ReadonlyMap<string, Contact>;

/** What a new contact does: the first takes what is in the hand, a second one presses what the first heats. */
export function toolFor(down: Down, settings: Settings, other: boolean): Tool {
  const heats = [...down.values()].some((one) => one.tool === "gun");
  if (settings.tool !== "gun") return heats || !other ? settings.tool : "gun";
  return heats || other ? settings.second : "gun";
}

/** One tenth of a second as strokes: one gun at most, and every hand. */
export function strokesOf(down: Down, settings: Settings): StrokeRow[] {
  const rows: StrokeRow[] = [];
  let gun = false;
  for (const { tool, place } of down.values()) {
    if (tool === "gun") {
      if (!gun) rows.push(["gun", place.x, place.y, settings.high ? 1 : 0, settings.near]);
      gun = true;
    } else rows.push([tool, place.x, place.y]);
  }
  return rows.slice(0, 4);
}

/** A move of the cursor by the arrow keys, kept near the pane. */
export function moved(place: Place, key: string, far: boolean, most: Place): Place | null {
  const by = far ? 60 : 15;
  const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[key];
  if (!way) return null;
  const [x = 0, y = 0] = way;
  const within = (value: number, limit: number) => Math.max(-limit, Math.min(limit, value));
  return { x: within(place.x + x * by, most.x), y: within(place.y + y * by, most.y) };
}

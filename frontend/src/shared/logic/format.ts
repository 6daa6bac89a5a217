import { formatInches } from "./length";

export type LengthUnit = "in" | "mm";

/** A length in the unit chosen for this screen, with its unit. */
export function showLength(mm: number, unit: LengthUnit): string {
  return unit === "in" ? `${formatInches(mm)} in` : `${mm.toFixed(0)} mm`;
}

const LONG_MM = 120 * 25.4;

/** A length along a roll: long ones in feet and inches, or in metres. */
export function showRoll(mm: number, unit: LengthUnit): string {
  if (mm < LONG_MM) return showLength(mm, unit);
  if (unit === "mm") return `${(mm / 1000).toFixed(2)} m`;
  const sixteenths = Math.round((mm / 25.4) * 16);
  const feet = Math.floor(sixteenths / 192);
  const rest = sixteenths - feet * 192;
  return rest === 0 ? `${String(feet)} ft` : `${String(feet)} ft ${formatInches((rest / 16) * 25.4)} in`;
}

/** A length along a roll that is known roughly. */
export function showAbout(mm: number, unit: LengthUnit): string {
  return unit === "in" ? `${(mm / 304.8).toFixed(1)} ft` : `${(mm / 1000).toFixed(2)} m`;
}

/** A length without its unit. */
export function showBare(mm: number, unit: LengthUnit): string {
  return unit === "in" ? formatInches(mm) : mm.toFixed(0);
}

/** A margin in points; one that rounds to nothing is not called minus nothing. */
export function pointsWords(points: number): string {
  const rounded = Math.abs(points).toFixed(1);
  if (rounded === "0.0") return points < 0 ? "just under" : "just at it";
  return `${points > 0 ? "+" : "−"}${rounded} points`;
}

/** Percent with at most one decimal. */
export function showPercent(percent: number): string {
  return `${percent.toFixed(1).replace(/\.0$/, "")} %`;
}

/** A white backdrop seen through glass that passes so much: linear light, then sRGB encoding. */
export function linearGrey(percent: number): string {
  const linear = Math.min(1, Math.max(0, percent / 100));
  const encoded = linear <= 0.0031308 ? 12.92 * linear : 1.055 * linear ** (1 / 2.4) - 0.055;
  const level = Math.round(encoded * 255);
  return `rgb(${String(level)}, ${String(level)}, ${String(level)})`;
}

/** A sum; empty for who does not see prices, to whom none is sent. */
export function showMoney(dollars: number | null): string {
  return dollars === null ? "" : `$${dollars.toFixed(2)}`;
}

/** A number of things, in words. */
export const counted = (number: number, one: string) => `${String(number)} ${one}${number === 1 ? "" : "s"}`;

const DAY = 86_400_000;

/** A promised time as people say it: today 14:30, tomorrow 9:00, Fri 27 Nov 9:00. */
export function showPromise(iso: string | null, now: Date = new Date()): string {
  if (!iso) return "no time promised";
  const at = new Date(iso);
  const time = at.toLocaleTimeString("en-US", { hour: "numeric", minute: "2-digit" });
  const midnight = (day: Date) => new Date(day.getFullYear(), day.getMonth(), day.getDate()).getTime();
  const days = Math.round((midnight(at) - midnight(now)) / DAY);
  if (days === 0) return `today ${time}`;
  if (days === 1) return `tomorrow ${time}`;
  if (days === -1) return `yesterday ${time}`;
  return `${at.toLocaleDateString("en-US", { weekday: "short", day: "numeric", month: "short" })} ${time}`;
}

/** With its first letter large. */
export function capital(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
}

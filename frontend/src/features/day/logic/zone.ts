/** Wall times of the shop's zone, whatever zone the screen is in. */

const PARTS = ["year", "month", "day", "hour", "minute"] as const;

/** A moment as the wall shows it there: “2026-11-27T08:30”. */
export function wallOf(iso: string, zone: string): string {
  const format = new Intl.DateTimeFormat("en-CA", {
    timeZone: zone,
    hourCycle: "h23",
    year: "numeric",
    month: "2-digit",
    day: "2-digit",
    hour: "2-digit",
    minute: "2-digit",
  });
  const found: Record<string, string> = {};
  for (const part of format.formatToParts(new Date(iso))) found[part.type] = part.value;
  const [year, month, day, hour, minute] = PARTS.map((name) => found[name] ?? "00");
  return `${year}-${month}-${day}T${hour}:${minute}`;
}

/** The moment at which the wall there shows that; a time that a change of clocks skips is an hour later. */
export function momentOf(wall: string, zone: string): string {
  const asUtc = /^\d{4}-\d\d-\d\dT\d\d:\d\d$/.test(wall) ? Date.parse(`${wall}:00Z`) : Number.NaN;
  if (Number.isNaN(asUtc)) return "";
  let guess = asUtc;
  for (let i = 0; i < 3; i++) {
    const off = Date.parse(`${wallOf(new Date(guess).toISOString(), zone)}:00Z`) - guess;
    const next = asUtc - off;
    if (next === guess) break;
    guess = next;
  }
  return new Date(guess).toISOString();
}

/** The day in the shop on which a moment falls. */
export const dayOf = (iso: string, zone: string): string => wallOf(iso, zone).slice(0, 10);

/** A day so many days on. */
export function dayAfter(day: string, days: number): string {
  const at = new Date(`${day}T12:00:00Z`);
  at.setUTCDate(at.getUTCDate() + days);
  return at.toISOString().slice(0, 10);
}

/** “Fri 27”. */
export function shortDay(day: string): string {
  return new Date(`${day}T12:00:00Z`).toLocaleDateString("en-US", {
    weekday: "short",
    day: "numeric",
    timeZone: "UTC",
  });
}

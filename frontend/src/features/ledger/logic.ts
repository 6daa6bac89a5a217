import type { Ledger, Table } from "./api";

export interface Told {
  title: string;
  head: readonly string[];
  rows: readonly (readonly string[])[];
}

const one = (value: number) => value.toFixed(1);
const money = (value: number) => `$${value.toFixed(0)}`;

/** Weeks in which nothing happened at either end are left out. */
export function busyWeeks<Week extends { week: string }>(
  weeks: readonly Week[],
  busy: (week: Week) => boolean,
): Week[] {
  const first = weeks.findIndex(busy);
  const last = weeks.findLastIndex(busy);
  return first < 0 ? [] : weeks.slice(first, last + 1);
}

/** A week by its Monday, short. */
export const weekName = (week: string) =>
  new Intl.DateTimeFormat("en-US", { month: "short", day: "numeric", timeZone: "UTC" }).format(
    new Date(`${week}T12:00:00Z`),
  );

/** Each part of the ledger as a table. */
export function tableOf(ledger: Ledger, table: Table): Told {
  switch (table) {
    case "film":
      return {
        title: "Film by week, m²",
        head: ["Week of", "Bought", "Used", "Waste"],
        rows: busyWeeks(ledger.film, (w) => w.bought + w.used + w.waste > 0).map((w) => [
          w.week,
          one(w.bought),
          one(w.used),
          one(w.waste),
        ]),
      };
    case "waste":
      return {
        title: "Waste by reason",
        head: ["Why", "m²", "$"],
        rows: ledger.waste.map((w) => [w.reason, w.m2.toFixed(2), money(w.dollars)]),
      };
    case "yield":
      return {
        title: "Yield of each layout",
        head: ["Day", "Job", "Film", "Yield %", "Over the bound %", ""],
        rows: ledger.yields.map((y) => [
          y.day,
          String(y.job_number),
          y.film,
          one(y.yield_percent),
          y.over_bound_percent === null ? "" : one(y.over_bound_percent),
          y.proven ? "proven" : "best found",
        ]),
      };
    case "redo":
      return {
        title: "Pieces cut again",
        head: ["Day", "Job", "Window", "Why", "Seen at", "Lot", "Worked on by"],
        rows: ledger.redo.lines.map((l) => [
          l.day,
          String(l.job_number),
          l.window,
          l.why,
          l.step,
          l.lot,
          l.person,
        ]),
      };
    case "readings":
      return {
        title: "Foretold against read",
        head: ["Day", "Job", "Window", "Film", "Lot", "Foretold %", "Read %"],
        rows: ledger.readings.map((r) => [
          r.day,
          String(r.job_number),
          r.window,
          r.film,
          r.lot,
          `${one(r.predicted)} ± ${one(r.pm)}`,
          one(r.read),
        ]),
      };
    case "time":
      return {
        title: "Time against plan, min",
        head: ["Day", "Job", "Planned", "Worked"],
        rows: ledger.cars.map((c) => [c.day, String(c.job_number), one(c.planned), one(c.worked)]),
      };
    case "money":
      return {
        title: "Money by week",
        head: ["Week of", "Billed", "Film", "Labour"],
        rows: busyWeeks(ledger.money, (m) => m.billed + m.film + m.labour > 0).map((m) => [
          m.week,
          money(m.billed),
          money(m.film),
          money(m.labour),
        ]),
      };
  }
}

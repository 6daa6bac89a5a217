import { Box, Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import {
  Answer,
  counted,
  DayField,
  Empty,
  ErrorNote,
  Head,
  Pending,
  Row,
  Ruled,
  Switch,
  TwoColumns,
} from "../../shared";
import { ledgerQuery, type Ledger, type Table } from "./api";
import { Bars, Figures, Foretold } from "./components/charts";
import { busyWeeks, tableOf, weekName } from "./logic";

const TABLES = {
  film: "Film",
  waste: "Waste",
  yield: "Yield",
  redo: "Redo",
  readings: "Readings",
  time: "Time",
  money: "Money",
} as const satisfies Record<Table, string>;

/** What the weeks came to: film, waste, redo, readings, time and money; each as a drawing, a table and a file. */
export function LedgerPage() {
  const [params, setParams] = useSearchParams();
  const asked = params.get("table") ?? "";
  const table = Object.hasOwn(TABLES, asked) ? (asked as Table) : "film";
  const [since, until] = [params.get("since"), params.get("until")];
  const found = useQuery(ledgerQuery(since, until));
  const set = (changes: Record<string, string | null>) => {
    const next = new URLSearchParams(params);
    for (const [name, value] of Object.entries(changes))
      if (value === null) next.delete(name);
      else next.set(name, value);
    setParams(next, { replace: true });
  };
  if (found.isPending) return <Pending what="the ledger" />;
  if (found.isError) return <ErrorNote error={found.error} again={() => void found.refetch()} />;
  const ledger = found.data;
  const told = tableOf(ledger, table);
  const file = new URLSearchParams({ table, since: ledger.since, until: ledger.until });
  return (
    <>
      <Head
        buttons={
          <>
            <DayField label="From" value={ledger.since} onChange={(day) => set({ since: day })} />
            <DayField label="To" value={ledger.until} onChange={(day) => set({ until: day })} />
          </>
        }
      >
        <Answer why={why(ledger)}>{ledger.headline}</Answer>
      </Head>
      <Row>
        <Switch
          label="Part of the ledger"
          value={table}
          options={TABLES}
          onChange={(one) => set({ table: one })}
        />
        <Button component="a" href={`/api/ledger.csv?${file.toString()}`} download>
          CSV
        </Button>
        <Button onClick={() => window.print()}>Print</Button>
      </Row>
      <Ruled title={told.title}>
        {told.rows.length === 0 ? (
          <Empty words="Nothing of this happened in these weeks. Pick other days, or wait for the first car." />
        ) : (
          <TwoColumns shares={table === "redo" || table === "readings" ? "1fr 1fr" : "1.2fr 1fr"}>
            <Drawing ledger={ledger} table={table} />
            <Figures head={told.head} rows={told.rows} label={told.title} />
          </TwoColumns>
        )}
      </Ruled>
    </>
  );
}

function why(ledger: Ledger): string {
  const cars = ledger.cars.length;
  const pieces = ledger.redo.pieces_cut;
  return `${counted(cars, "car")} handed over, ${counted(pieces, "piece")} cut, ${ledger.since} to ${ledger.until}.`;
}

function Drawing({ ledger, table }: { ledger: Ledger; table: Table }) {
  switch (table) {
    case "film": {
      const weeks = busyWeeks(ledger.film, (week) => week.used + week.waste + week.bought > 0);
      return (
        <Bars
          unit="m²"
          names={weeks.map((week) => weekName(week.week))}
          series={[
            { label: "bought", values: weeks.map((week) => week.bought), color: "soft" },
            { label: "used", values: weeks.map((week) => week.used), color: "shade" },
            { label: "waste", values: weeks.map((week) => week.waste), color: "sun" },
          ]}
        />
      );
    }
    case "waste":
      return (
        <Bars
          across
          unit="m²"
          names={ledger.waste.map((one) => one.reason)}
          series={[{ label: "waste", values: ledger.waste.map((one) => one.m2), color: "sun" }]}
        />
      );
    case "yield":
      return (
        <Bars
          unit="%"
          names={ledger.yields.map((one) => `${String(one.job_number)} ${one.film}`)}
          series={[
            { label: "yield", values: ledger.yields.map((one) => one.yield_percent), color: "shade" },
            {
              label: "cost over the bound",
              values: ledger.yields.map((one) => one.over_bound_percent ?? 0),
              color: "sun",
            },
          ]}
        />
      );
    case "redo":
      return <Redo ledger={ledger} />;
    case "readings":
      return (
        <Foretold
          points={ledger.readings.map((one, i) => ({ x: one.predicted, y: one.read, id: String(i) }))}
        />
      );
    case "time":
      return (
        <Bars
          unit="min"
          names={ledger.cars.map((car) => String(car.job_number))}
          series={[
            { label: "planned", values: ledger.cars.map((car) => car.planned), color: "soft" },
            { label: "worked", values: ledger.cars.map((car) => car.worked), color: "shade" },
          ]}
        />
      );
    case "money": {
      const weeks = busyWeeks(ledger.money, (week) => week.billed + week.film + week.labour > 0);
      return (
        <Bars
          unit="$"
          names={weeks.map((week) => weekName(week.week))}
          series={[
            { label: "billed", values: weeks.map((week) => week.billed), color: "good" },
            { label: "film", values: weeks.map((week) => week.film), color: "sun" },
            { label: "labour", values: weeks.map((week) => week.labour), color: "shade" },
          ]}
        />
      );
    }
  }
}

const WAYS = [
  ["by_flaw", "by flaw"],
  ["by_kind", "by window"],
  ["by_step", "by step"],
  ["by_person", "worked on by"],
  ["by_lot", "by lot"],
] as const;

function Redo({ ledger }: { ledger: Ledger }) {
  const [params, setParams] = useSearchParams();
  const way = WAYS.find(([name]) => name === params.get("by"))?.[0] ?? "by_flaw";
  const counts = ledger.redo[way];
  return (
    <Box>
      <Switch
        label="Counted"
        value={way}
        options={Object.fromEntries(WAYS)}
        onChange={(one) => {
          const next = new URLSearchParams(params);
          next.set("by", one);
          setParams(next, { replace: true });
        }}
      />
      <Bars
        across
        unit="pieces"
        names={counts.map((one) => one.name)}
        series={[{ label: "cut again", values: counts.map((one) => one.number), color: "bad" }]}
      />
      {way === "by_person" && (
        <Typography color="text.secondary">
          Who worked on the window says nothing of why: see the causes at Look.
        </Typography>
      )}
    </Box>
  );
}

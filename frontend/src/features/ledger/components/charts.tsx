import { Box, Table, TableBody, TableCell, TableHead, TableRow, useTheme } from "@mui/material";
import { BarChart } from "@mui/x-charts/BarChart";
import { ScatterChart } from "@mui/x-charts/ScatterChart";

const HEIGHT = 300;
const MARGIN = { left: 8, right: 16, top: 16, bottom: 8 };

export interface Series {
  label: string;
  values: readonly number[];
  color: "ink" | "sun" | "shade" | "soft" | "bad" | "good";
}

const place = (value: number | null, unit: string) => (value === null ? "" : `${value.toFixed(1)} ${unit}`);

/** Bars week by week, or reason by reason; every series told by its words as well as its colour. */
export function Bars({
  names,
  series,
  unit,
  stacked = false,
  across = false,
}: {
  names: readonly string[];
  series: readonly Series[];
  unit: string;
  stacked?: boolean;
  across?: boolean;
}) {
  const { inks } = useTheme();
  const band = { data: [...names], scaleType: "band" as const };
  const axes = across
    ? { yAxis: [{ ...band, width: 190 }], xAxis: [{ label: unit }] }
    : { xAxis: [band], yAxis: [{ label: unit, width: 56 }] };
  return (
    <BarChart
      height={across ? Math.max(140, 44 * names.length + 60) : HEIGHT}
      margin={MARGIN}
      skipAnimation
      layout={across ? "horizontal" : "vertical"}
      {...axes}
      series={series.map((one) => ({
        data: [...one.values],
        label: one.label,
        color: inks[one.color],
        valueFormatter: (value: number | null) => place(value, unit),
        ...(stacked ? { stack: "all" } : {}),
      }))}
      slotProps={{ legend: { direction: "horizontal" as const } }}
      hideLegend={series.length < 2}
    />
  );
}

/** Foretold against read: a point on the line was foretold right. */
export function Foretold({ points }: { points: readonly { x: number; y: number; id: string }[] }) {
  const { inks } = useTheme();
  const most = Math.ceil(Math.max(20, ...points.map((one) => Math.max(one.x, one.y))) / 10) * 10;
  const line = Array.from({ length: most + 1 }, (_, i) => ({ x: i, y: i, id: `line${String(i)}` }));
  return (
    <ScatterChart
      height={HEIGHT}
      margin={MARGIN}
      skipAnimation
      xAxis={[{ label: "foretold, %", min: 0, max: most }]}
      yAxis={[{ label: "read, %", min: 0, max: most, width: 56 }]}
      series={[
        { data: line, label: "as foretold", color: inks.rule, markerSize: 1.5 },
        { data: [...points], label: "finished panes", color: inks.shade, markerSize: 4 },
      ]}
      slotProps={{ legend: { direction: "horizontal" as const } }}
    />
  );
}

/** The same as a table, for those who read figures, and for print. */
export function Figures({
  head,
  rows,
  label,
}: {
  head: readonly string[];
  rows: readonly (readonly string[])[];
  label: string;
}) {
  return (
    <Box sx={{ overflowX: "auto", position: "relative", maxHeight: 360, overflowY: "auto" }}>
      <Table size="small" aria-label={label} stickyHeader>
        <TableHead>
          <TableRow>
            {head.map((one) => (
              <TableCell key={one}>{one}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map((row, i) => (
            <TableRow key={i}>
              {row.map((one, j) => (
                <TableCell key={j}>{one}</TableCell>
              ))}
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Box>
  );
}

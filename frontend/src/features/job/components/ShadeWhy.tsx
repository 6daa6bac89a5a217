import { Box, Table, TableBody, TableCell, TableRow, Typography } from "@mui/material";
import type { JobWindow } from "../../../api/client";
import { Figure, Ruled, showPercent } from "../../../shared";

/** Formula, both schools, the whole chain, spread: where the number comes from. */
export function ShadeWhy({ window }: { window: JobWindow }) {
  const { shade } = window;
  if (shade.vlt_percent === null) return null;
  const row = (words: string, value: string) => (
    <TableRow key={words}>
      <TableCell>{words}</TableCell>
      <TableCell align="right" sx={{ whiteSpace: "nowrap" }}>
        {value}
      </TableCell>
    </TableRow>
  );
  const percent = (value: number | null) => (value === null ? "not known" : showPercent(value));
  const readings = window.bare_readings_percent.length;
  return (
    <Box component="details" sx={{ mt: 1 }}>
      <Box component="summary" sx={{ cursor: "pointer", fontWeight: 600, py: 1 }}>
        Why this number?
      </Box>
      <Typography sx={{ fontFamily: '"B612 Mono", monospace', fontSize: "0.92rem", my: 1 }}>
        {shade.formula}
      </Typography>
      <Table size="small" sx={{ maxWidth: 560 }}>
        <TableBody>
          {row(
            "Bonded: freed of the glass the sheet was measured on (judged)",
            shade.bonded_percent === null
              ? "basis not known: bench figure judged"
              : showPercent(shade.bonded_percent),
          )}
          {row("Bench: glass times sheet, the quick school", percent(shade.bench_percent))}
          {row("Whole chain, face by face", percent(shade.chain_percent))}
          {row(
            `Glass, ${window.bare_vlt_source}${readings > 1 ? `, mean of ${String(readings)} readings` : ""}`,
            shade.bare_percent === null
              ? "not known"
              : `${showPercent(shade.bare_percent)} ± ${shade.bare_pm_points?.toFixed(1) ?? "?"}`,
          )}
          {row("Spread of the sum, 95 in 100", `± ${shade.pm_points?.toFixed(1) ?? "?"} points`)}
          {row(
            "Gives back outward / inward",
            `${percent(shade.reflects_outside_percent)} / ${percent(shade.reflects_inside_percent)}`,
          )}
        </TableBody>
      </Table>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 1 }}>
        Glass and sheet as entered; spreads, reference glass (3 mm clear) and the reflection of one face are
        our starting values, shown at Shop.
      </Typography>
    </Box>
  );
}

const NOT = "not in the film’s data";

/** What the film does besides darkening, and what to mind. */
export function HeatSide({ window }: { window: JobWindow }) {
  const { heat } = window;
  if (!heat) return null;
  const figure = (value: number | null) => (value === null ? NOT : showPercent(value));
  return (
    <Ruled title="Heat, glare, ultraviolet">
      <Box sx={{ display: "flex", columnGap: 3, rowGap: 1, flexWrap: "wrap", mt: 1 }}>
        <Figure words="solar energy rejected" value={figure(heat.tser_percent)} />
        <Figure
          words="glare taken off"
          value={heat.glare_percent === null ? "glass not known" : showPercent(heat.glare_percent)}
        />
        <Figure words="ultraviolet rejected" value={figure(heat.uv_percent)} />
        <Figure words="warranty" value={heat.warranty} />
      </Box>
      {heat.break_reasons.length > 0 && (
        <Typography sx={{ mt: 1 }}>
          <b>The pane may crack in the sun.</b> {heat.break_reasons.join(" ")} Ask the maker’s film-to-glass
          chart, tell the customer first.
        </Typography>
      )}
      {heat.radio && <Typography sx={{ mt: 1 }}>{heat.radio}</Typography>}
    </Ruled>
  );
}

import { Box, Table, TableBody, TableCell, TableHead, TableRow, Typography } from "@mui/material";
import type { FilmPlan } from "../../api/client";
import { showBare, showMoney, type LengthUnit } from "../logic/format";

const CUT_WORDS = {
  across_roll: "across the roll at",
  along: "along the roll at",
  across_lane: "across the strip at",
} as const;

/** Every knife cut, numbered in working order. */
export function CutList({ plan, unit }: { plan: FilmPlan; unit: LengthUnit }) {
  if (plan.cuts.length === 0) return null;
  const labels = new Map(plan.stocks.map((stock) => [stock.id, stock.label]));
  const several = new Set(plan.cuts.map((cut) => cut.stock_id)).size > 1;
  return (
    <Table size="small" aria-label={`Cuts for ${plan.film_name}`}>
      <TableHead>
        <TableRow>
          <TableCell>Cut</TableCell>
          {several && <TableCell>Stock</TableCell>}
          <TableCell>Knife</TableCell>
          <TableCell align="right">Ruler, {unit}</TableCell>
          <TableCell>from</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {plan.cuts.map((cut) => (
          <TableRow key={cut.number}>
            <TableCell sx={{ fontWeight: 700 }}>{cut.number}</TableCell>
            {several && <TableCell>{labels.get(cut.stock_id)}</TableCell>}
            <TableCell>{CUT_WORDS[cut.kind]}</TableCell>
            <TableCell align="right" sx={{ fontFamily: '"B612 Mono", monospace', fontWeight: 700 }}>
              {showBare(cut.at_mm, unit)}
            </TableCell>
            <TableCell>{cut.measured_from}</TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

/** What the plan costs beside the customary ways of cutting. */
export function Costs({ plan }: { plan: FilmPlan }) {
  if (plan.hypothetical) return null;
  if (plan.score.net === null)
    return <Typography>{plan.score.minutes.toFixed(1)} min at the knife.</Typography>;
  const rows: [string, FilmPlan["score"] | null][] = [
    ["This plan", plan.score],
    ["One after another, each on the narrowest roll", plan.baseline_narrowest],
    ["One after another, all on the cheapest roll", plan.baseline_single],
  ];
  // The customary ways are ways of cutting blanks.
  if (plan.pieces.some((piece) => piece.kind === "pattern")) rows.splice(1);
  return (
    <Box>
      <Table size="small" aria-label={`Cost for ${plan.film_name}`}>
        <TableHead>
          <TableRow>
            <TableCell>Way of cutting</TableCell>
            <TableCell align="right">New film</TableCell>
            <TableCell align="right">Knife min</TableCell>
            <TableCell align="right">Kept</TableCell>
            <TableCell align="right">Net</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map(([words, score]) => (
            <TableRow key={words}>
              <TableCell>{words}</TableCell>
              {score ? (
                <>
                  <TableCell align="right">{showMoney(score.new_film)}</TableCell>
                  <TableCell align="right">{score.minutes.toFixed(1)}</TableCell>
                  <TableCell align="right">{showMoney(score.offcuts_kept)}</TableCell>
                  <TableCell align="right" sx={{ fontWeight: 700 }}>
                    {showMoney(score.net)}
                  </TableCell>
                </>
              ) : (
                <TableCell colSpan={4}>cannot hold all pieces</TableCell>
              )}
            </TableRow>
          ))}
          <TableRow>
            <TableCell>No layout of any kind buys less than</TableCell>
            <TableCell align="right">{showMoney(plan.bound_free)}</TableCell>
            <TableCell colSpan={3}>area over width: {showMoney(plan.bound_area)}</TableCell>
          </TableRow>
        </TableBody>
      </Table>
      {!!plan.score.offcuts_used && (
        <Typography variant="body2" sx={{ mt: 1 }}>
          Offcuts taken from the rack count {showMoney(plan.score.offcuts_used)} in the net.
        </Typography>
      )}
    </Box>
  );
}

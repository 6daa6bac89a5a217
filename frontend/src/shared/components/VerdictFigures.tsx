import { Box, Typography } from "@mui/material";
import type { Verdict } from "../../api/client";
import { pointsWords, showPercent } from "../logic/format";
import { Figure } from "./Figure";

/** Number, limit, margin and the chance of a lower reading, with the tolerance beside and never used. */
export function VerdictFigures({ verdict }: { verdict: Verdict }) {
  const margin = verdict.margin_points;
  return (
    <>
      <Box sx={{ display: "flex", columnGap: 3, rowGap: 0.5, flexWrap: "wrap" }}>
        {verdict.vlt_percent !== null && <Figure words="passes" value={showPercent(verdict.vlt_percent)} />}
        {verdict.limit_percent !== null && (
          <Figure words="limit" value={showPercent(verdict.limit_percent)} />
        )}
        {margin !== null && <Figure words="margin" value={pointsWords(margin)} />}
        {verdict.risk !== null && (
          <Figure words="a meter reads under" value={`${(verdict.risk * 100).toFixed(0)} in 100`} />
        )}
      </Box>
      {verdict.tolerance_points !== null && (
        <Typography variant="body2" sx={{ mt: 0.5 }}>
          The law grants the meter {verdict.tolerance_points} points.{" "}
          {verdict.works_inside ? "This shop works inside them." : "This shop does not work inside them."}
        </Typography>
      )}
    </>
  );
}

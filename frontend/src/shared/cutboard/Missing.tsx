import { Box, Typography } from "@mui/material";
import type { ReactNode } from "react";
import type { FilmPlan } from "../../api/client";
import { showLength, type LengthUnit } from "../logic/format";

interface Props {
  plan: FilmPlan;
  unit: LengthUnit;
  /** What one touch can do about a piece without film. */
  mend: ((item: FilmPlan["unplaced"][number]) => ReactNode) | undefined;
}

/** Pieces that the rack has no film for, and the roll to pull for all of them. */
export function Missing({ plan, unit, mend }: Props) {
  const widths = plan.unplaced.map((item) => item.pull_width_mm);
  const widest = widths.includes(null) ? null : Math.max(...widths.map((width) => width ?? 0));
  const total = plan.unplaced.length + plan.pieces.length;
  return (
    <Box role="alert" sx={{ mb: 2 }}>
      <Typography component="p" sx={{ fontWeight: 700, fontSize: "1.4rem", color: "error.main" }}>
        {`${String(plan.unplaced.length)} of ${String(total)} pieces fit no ${plan.film_name} on the rack`}
      </Typography>
      <Typography sx={{ mb: 0.5 }}>
        {widest
          ? `A ${showLength(widest, unit)} roll of ${plan.film_name} holds them.`
          : "No customary roll is that wide: plan those panes in strips, or with less play."}
      </Typography>
      <Box sx={{ borderLeft: 6, borderColor: "error.main", bgcolor: "background.paper", px: 1.5, py: 0.5 }}>
        {plan.unplaced.map((item) => (
          <Typography key={item.window_id} sx={{ py: 0.25 }}>
            <b>{item.label}.</b> {item.reason}{" "}
            {item.pull_width_mm
              ? `Pull a ${showLength(item.pull_width_mm, unit)} roll, ${showLength(item.length_needed_mm, unit)} of it.`
              : ""}{" "}
            {mend?.(item)}
          </Typography>
        ))}
      </Box>
    </Box>
  );
}

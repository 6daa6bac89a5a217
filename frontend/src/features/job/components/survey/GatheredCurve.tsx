import { Box, Typography } from "@mui/material";
import type { ReactNode } from "react";
import type { JobWindow } from "../../../../api/client";
import { FieldGrid } from "../../../../shared";

type Field = (key: string, options?: { optional?: boolean; label?: string }) => ReactNode;

const QUARTERS = [
  "crown_across_quarter_left",
  "crown_across_quarter_right",
  "crown_up_quarter_foot",
  "crown_up_quarter_head",
];
const ROWS = ["high", "mid", "low"] as const;
const COLUMNS = ["left", "mid", "right"] as const;
const GAPS = ROWS.flatMap((row) => COLUMNS.map((column) => `gap_${row}_${column}`));
const RISES = COLUMNS.flatMap((column) => [`rise_${column}`, `rise_${column}_low`]);

/** Readings that tell where a curve gathers, of glass that two crowns do not tell enough about. */
export const FACE_READINGS: ReadonlySet<string> = new Set([...QUARTERS, ...GAPS, ...RISES]);

/** A gap a quarter of the way in; or nine to fifteen gaps to which a smooth face is fitted. */
export function GatheredCurve({
  window,
  field,
  refused,
}: {
  window: JobWindow;
  field: Field;
  refused: (key: string) => boolean;
}) {
  const open = [...FACE_READINGS].some((key) => window.readings[key] || refused(key));
  const optional = (key: string) => field(key, { optional: true });
  return (
    <Box component="details" sx={{ mt: 1.5 }} open={open}>
      <Box component="summary" sx={{ cursor: "pointer", fontWeight: 600, py: 1 }}>
        The curve gathers at an edge or in a corner
      </Box>
      <Typography variant="body2" color="text.secondary">
        With the straightedge as for the crown, read one more gap a quarter of the way in from where the glass
        bends most; at both ends if both bend alike.
      </Typography>
      <FieldGrid columns={2}>{QUARTERS.map(optional)}</FieldGrid>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 2 }}>
        Windshields and other glass that no crown tells enough about: the straightedge from edge to edge
        across at three heights, and up at three places. Nine gaps at least, three of them up; they stand here
        as on the glass, and go before the crowns.
      </Typography>
      <FieldGrid columns={3}>{GAPS.map(optional)}</FieldGrid>
      <FieldGrid columns={3}>{RISES.map(optional)}</FieldGrid>
    </Box>
  );
}

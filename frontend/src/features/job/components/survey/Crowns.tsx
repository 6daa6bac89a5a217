import { Box, Typography } from "@mui/material";
import { useState, type ReactNode } from "react";
import type { JobWindow } from "../../../../api/client";
import { FieldGrid, Row, Switch } from "../../../../shared";
import { StraightedgeDrawing } from "./CurveClasses";
import type { ChangeWindow } from "./types";

type Field = (key: string, options?: { optional?: boolean; label?: string }) => ReactNode;

/** Both crowns: gap and chord, at the middle or at both ends, with the straightedge as it is laid. */
export function Crowns({
  window,
  field,
  change,
  lit,
}: {
  window: JobWindow;
  field: Field;
  change: ChangeWindow;
  lit: string | null;
}) {
  const [asked, setAsked] = useState<Record<string, boolean>>({});
  return (
    <>
      {(["across", "up"] as const).map((way) => {
        const gap = `crown_${way}`;
        const ends =
          way === "across" ? ["crown_across_left", "crown_across_right"] : ["crown_up_foot", "crown_up_head"];
        const begun = ends.some((key) => window.readings[key]);
        const atEnds = asked[way] ?? begun;
        return (
          <Box key={way} sx={{ mt: 1.5 }}>
            <Row>
              <Typography sx={{ fontWeight: 700 }}>Crown {way}</Typography>
              <Switch
                label={`Crown ${way}, gap read`}
                value={atEnds ? "ends" : "middle"}
                options={{ middle: "gap at the middle", ends: "at both ends" }}
                onChange={(value) => {
                  setAsked((before) => ({ ...before, [way]: value === "ends" }));
                  const gone = value === "ends" ? [gap] : ends;
                  const taken = gone.filter((key) => window.readings[key]);
                  if (taken.length) change({ readings: Object.fromEntries(taken.map((key) => [key, null])) });
                }}
              />
            </Row>
            <StraightedgeDrawing atEnds={atEnds} way={way} lit={lit?.startsWith(gap) ?? false} />
            <FieldGrid columns={atEnds ? 3 : 2}>
              {(atEnds ? ends : [gap]).map((key) => field(key))}
              {field(`${gap}_chord`)}
            </FieldGrid>
          </Box>
        );
      })}
    </>
  );
}

import { Box, Button, Dialog, Typography, useMediaQuery } from "@mui/material";
import { useState } from "react";
import type { JobWindow } from "../../../../api/client";
import { keepStored, readStored } from "../../../../shared";
import type { ShrinkView } from "../../heat";
import { biteAt } from "../../logic/heat";
import { ShrinkMap } from "./ShrinkMap";

const ABOVE = 430;
/** With the whole pane below it, where the screen stands upright. */
const ABOVE_TWO = 760;
const ABOVE_WHOLE = 860;

/** Read from beside the car: one quarter at a time, the next bite lit, buttons for wet gloves. Kept where it stood. */
export function BayReading({
  window,
  view,
  onClose,
}: {
  window: JobWindow;
  view: ShrinkView;
  onClose: () => void;
}) {
  const key = `elumbra.bites.${window.id}.${view.part}`;
  const [done, setDone] = useState(() => Number(readStored(localStorage, key, isCount, "0")));
  const to = (next: number) => {
    setDone(next);
    keepStored(localStorage, key, String(next));
  };
  const now = biteAt(view, done);
  const upright = useMediaQuery(
    "(min-aspect-ratio: 1/4) and (max-aspect-ratio: 4/5) and (min-height: 1000px)",
  );
  return (
    <Dialog fullScreen open onClose={onClose} aria-label={`Heat, ${window.label}`}>
      <Box sx={{ p: 2, display: "flex", flexDirection: "column", gap: 2, height: "100%" }}>
        <Typography sx={{ fontSize: { xs: 36, sm: 60 }, lineHeight: 1.05, fontWeight: 700 }}>
          {now ? (
            <>
              {now.bite.quarter.replace(/^./, (first) => first.toUpperCase())}, bite {now.number} of {now.of}
            </>
          ) : (
            "All quarters done: edges last"
          )}
        </Typography>
        <Typography sx={{ fontSize: { xs: 22, sm: 36 }, lineHeight: 1.15 }}>
          {now
            ? "Warm it until it softens and zigzags, then press it down. Never press lower than what is warm."
            : "Warm and check every edge, then look at it from inside."}
        </Typography>
        <Box sx={{ flexGrow: 1, minHeight: 0, overflow: "hidden" }}>
          <ShrinkMap
            view={view}
            label={window.label}
            showing="order"
            above={upright ? ABOVE_TWO : ABOVE}
            lit={now?.bite.number ?? Infinity}
            quarter={now?.bite.quarter}
          />
          {upright && now && (
            <ShrinkMap
              view={view}
              label="the whole pane"
              showing="order"
              above={ABOVE_WHOLE}
              lit={now.bite.number}
            />
          )}
        </Box>
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr 2fr", gap: 2 }}>
          <Big onClick={onClose}>Close</Big>
          <Big disabled={done === 0} onClick={() => to(done - 1)}>
            Back
          </Big>
          <Big primary onClick={() => (now ? to(done + 1) : to(0))}>
            {now ? "Pressed, next bite" : "From the start"}
          </Big>
        </Box>
      </Box>
    </Dialog>
  );
}

function Big({
  children,
  primary,
  disabled,
  onClick,
}: {
  children: string;
  primary?: boolean;
  disabled?: boolean;
  onClick: () => void;
}) {
  return (
    <Button
      variant={primary ? "contained" : "outlined"}
      disabled={disabled ?? false}
      onClick={onClick}
      sx={{ minHeight: 120, fontSize: 28 }}
    >
      {children}
    </Button>
  );
}

const isCount = (value: unknown): value is string => typeof value === "string" && /^\d{1,3}$/.test(value);

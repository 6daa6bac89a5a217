import { Box, Button, Typography } from "@mui/material";
import type { ReactNode } from "react";
import type { CarLook, LookWindow } from "../../look";
import type { Side } from "../../logic/look";

/** Where to stand and what to look for, one after the other: outside first, then inside. */
export function Hunt({
  car,
  look,
  at,
  onStep,
  children,
}: {
  car: CarLook;
  look: LookWindow;
  at: number;
  onStep: (at: number, side: Side) => void;
  children: ReactNode;
}) {
  const steps = car.hunt.filter((one) => look.hunt.includes(one.id));
  const step = steps[Math.min(at, steps.length - 1)];
  if (!step) return null;
  const go = (to: number) => {
    const next = steps[to];
    if (next) onStep(to, next.side);
  };
  return (
    <Box
      sx={{ display: "flex", alignItems: "center", gap: 1, mb: 0.75 }}
      role="group"
      aria-label="Led hunt"
      data-hunt={step.id}
    >
      <Button disabled={at === 0} onClick={() => go(at - 1)} aria-label="Look before" sx={{ minHeight: 48 }}>
        ◀
      </Button>
      <Typography sx={{ flexGrow: 1, fontSize: 17, fontWeight: 600, lineHeight: 1.15 }}>
        {at + 1} of {steps.length} · {step.say}
      </Typography>
      {children}
      <Button disabled={at >= steps.length - 1} onClick={() => go(at + 1)} sx={{ minHeight: 48 }}>
        Next ▶
      </Button>
    </Box>
  );
}

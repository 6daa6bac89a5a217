import { Box, Button, Typography } from "@mui/material";
import { useRef, useState } from "react";

const HOLD_MS = 900;

/** Stray drops tick nothing: the screen answers again when this is held. Pedal and keys go on working. */
export function WaterLock({ onUnlock }: { onUnlock: () => void }) {
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const [holding, setHolding] = useState(false);
  const start = () => {
    setHolding(true);
    timer.current = setTimeout(onUnlock, HOLD_MS);
  };
  const stop = () => {
    setHolding(false);
    clearTimeout(timer.current);
  };
  return (
    <Box
      data-lock
      sx={{
        position: "absolute",
        inset: 0,
        zIndex: 2,
        display: "flex",
        alignItems: "end",
        p: 2,
        touchAction: "none",
      }}
    >
      <Button
        variant="contained"
        fullWidth
        onPointerDown={start}
        onPointerUp={stop}
        onPointerLeave={stop}
        onKeyDown={(event) => {
          if (event.key === "Enter" || event.key === " ") onUnlock();
        }}
        sx={{ minHeight: 120, fontSize: { xs: 22, sm: 30 }, whiteSpace: "normal" }}
      >
        <Typography component="span" sx={{ font: "inherit" }}>
          {holding ? "Keep holding …" : "Water lock: hold to touch again"}
        </Typography>
      </Button>
    </Box>
  );
}

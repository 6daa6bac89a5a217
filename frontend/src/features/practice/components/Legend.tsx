import { Box, Typography } from "@mui/material";
import type { Frame } from "../api";
import { clockOf } from "../logic/grid";

/** The time, the glass, and how to tell the film's looks apart. */
export function Legend({ frame, film }: { frame: Frame; film: string }) {
  return (
    <Typography variant="body2" sx={{ mt: 0.5 }}>
      <Box component="span" sx={{ fontFamily: '"B612 Mono", monospace', fontWeight: 700, mr: 1.5 }}>
        {clockOf(frame.step)} · glass {frame.glass_c} °C
      </Box>
      {film.charAt(0).toUpperCase() + film.slice(1)}. Violet lies down, grey floats, dotted is wet, streaked
      clings; ridges are fingers, in zigzag once they soften; a cross is a slip.
    </Typography>
  );
}

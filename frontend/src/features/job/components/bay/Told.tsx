import { Box, Typography } from "@mui/material";
import type { ReactNode } from "react";

/** Something to be settled beside the step, in large words, with what can be done about it. */
export function Told({ words, children }: { words: string; children: ReactNode }) {
  return (
    <Box
      sx={{
        display: "flex",
        gap: 2,
        alignItems: "center",
        flexWrap: "wrap",
        borderLeft: 6,
        borderColor: "secondary.main",
        pl: 2,
        mb: 2,
      }}
    >
      <Typography role="status" sx={{ fontSize: { xs: 18, sm: 26 }, fontWeight: 700 }}>
        {words}
      </Typography>
      {children}
    </Box>
  );
}

import { Box, Typography } from "@mui/material";

/** A small label over its figure. */
export function Figure({ words, value }: { words: string; value: string }) {
  return (
    <Box>
      <Typography variant="caption" color="text.secondary" component="div">
        {words}
      </Typography>
      <Typography sx={{ fontWeight: 700, fontSize: "1.15rem" }}>{value}</Typography>
    </Box>
  );
}

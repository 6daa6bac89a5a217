import { Box, Button, Typography } from "@mui/material";
import type { JobWindow } from "../../../../api/client";
import { Row } from "../../../../shared";
import type { ChangeWindow } from "./types";

/** Sizes that glass of this kind hardly has: a slip of the tape or of the unit, or odd glass. */
export function SizeDoubt({ window, change }: { window: JobWindow; change: ChangeWindow }) {
  if (!window.pane.size_doubt) return null;
  return (
    <Box
      role="status"
      data-size-doubt
      sx={{ border: 2, borderColor: "secondary.main", bgcolor: "background.paper", p: 1.25, mt: 1 }}
    >
      <Typography sx={{ fontWeight: 700, mb: 1 }}>{window.pane.size_doubt}</Typography>
      <Row>
        <Button onClick={() => change({ readings_kept: true })}>It is meant</Button>
        <Typography>Or read it again.</Typography>
      </Row>
    </Box>
  );
}

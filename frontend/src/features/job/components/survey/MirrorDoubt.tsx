import { Box, Button, Typography } from "@mui/material";
import type { JobWindow } from "../../../../api/client";
import { Row } from "../../../../shared";
import { useOnWindow } from "../../survey";
import type { ChangeWindow } from "./types";

/** A pane read as its own mirror image always closes: it is asked for once, beside the drawing. */
export function MirrorDoubt({
  jobId,
  window,
  change,
}: {
  jobId: string;
  window: JobWindow;
  change: ChangeWindow;
}) {
  const { act, pending } = useOnWindow(jobId);
  if (!window.pane.mirror_doubt) return null;
  return (
    <Box
      role="status"
      data-mirror
      sx={{ border: 2, borderColor: "secondary.main", bgcolor: "background.paper", p: 1.25, mt: 1 }}
    >
      <Typography sx={{ fontWeight: 700, mb: 1 }}>{window.pane.mirror_doubt}</Typography>
      <Row>
        <Button variant="contained" onClick={() => change({ seen_from_outside: true })}>
          As drawn
        </Button>
        <Button disabled={pending} onClick={() => act(window.id, { what: "turn-over" })}>
          The other way: turn it over
        </Button>
      </Row>
    </Box>
  );
}

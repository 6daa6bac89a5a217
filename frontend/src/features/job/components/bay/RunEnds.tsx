import { Box, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Job } from "../../../../api/client";
import type { Bay, Card, Run } from "../../logic/bay";
import { Big } from "./Big";

/** Which layer came off decides how the run goes on. */
export function Branch({ card, onLayer }: { card: Card; onLayer: (layer: "both" | "face_only") => void }) {
  if (!card.steps.some((step) => step.branch === "layer" && step.done === null)) return null;
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 2, mt: 2 }}>
      <Big low onClick={() => onLayer("both")}>
        Both layers are off
      </Big>
      <Big low onClick={() => onLayer("face_only")}>
        Only the face: a dark layer stays
      </Big>
    </Box>
  );
}

/** A run is done: what comes next. */
export function AllDone({
  bay,
  run,
  job,
  onOpen,
}: {
  bay: Bay;
  run: Run;
  job: Job;
  onOpen: (name: string) => void;
}) {
  const rest = bay.runs.filter((one) => !one.done && one.steps.length > 0 && one.name !== "end");
  const next = rest.find((one) => one.taken_by === "" && one.name !== run.name) ?? rest[0];
  const end = bay.runs.find((one) => one.name === "end");
  return (
    <Box sx={{ display: "grid", gap: 2 }}>
      <Typography data-step sx={{ fontSize: { xs: 28, sm: 60 }, fontWeight: 700, lineHeight: 1.05 }}>
        {run.label} is done
      </Typography>
      {run.strip && (
        <Typography
          component={Link}
          to={`/jobs/${job.id}/strip_off?w=${run.window_id ?? ""}`}
          sx={{ fontSize: { xs: 20, sm: 30 } }}
        >
          Say how it came off, and meter the bare glass
        </Typography>
      )}
      {next ? (
        <Big onClick={() => onOpen(next.name)}>Next: {next.label}</Big>
      ) : (
        end && !end.done && <Big onClick={() => onOpen("end")}>Close the car</Big>
      )}
    </Box>
  );
}

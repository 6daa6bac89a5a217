import { Box, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import type { Job } from "../../../../api/client";
import { clock, type Bay, type Run } from "../../logic/bay";
import { Big } from "./Big";

const HEAD = { fontSize: { xs: 28, sm: 60 }, fontWeight: 700, lineHeight: 1.05 } as const;
const SECOND = { fontSize: { xs: 18, sm: 36 }, lineHeight: 1.15, mt: 1 } as const;

/** Something dries or soaks: how long still, and what can be done elsewhere meanwhile. */
export function Waiting({
  run,
  until,
  now,
  other,
  onOther,
}: {
  run: Run;
  until: string;
  now: number;
  other: Run | null;
  onOther: (name: string) => void;
}) {
  const left = Date.parse(until) - now;
  return (
    <Box>
      <Typography data-step role="timer" sx={HEAD}>
        {clock(left)} left
      </Typography>
      <Typography sx={SECOND}>{run.waits_for}</Typography>
      {other && (
        <Box sx={{ mt: 2, display: "grid" }}>
          <Big onClick={() => onOther(other.name)}>
            Meanwhile: {other.label}, {other.steps.find((step) => step.key === other.next)?.say ?? ""}
          </Big>
        </Box>
      )}
    </Box>
  );
}

/** The run stands still at this very step. */
export function Paused({ run, onResume }: { run: Run; onResume: () => void }) {
  return (
    <Box sx={{ display: "grid", gap: 2 }}>
      <Typography data-step sx={HEAD}>
        Paused by {run.paused_by || "somebody"}
      </Typography>
      <Typography sx={SECOND}>
        It goes on at: {run.steps.find((step) => step.key === run.next)?.say ?? "the end"}
      </Typography>
      <Big primary onClick={onResume}>
        Go on here
      </Big>
    </Box>
  );
}

/** Too cold or too hot for film: a lead may say why it goes on all the same. */
export function Stopped({ bay, why, onGoOn }: { bay: Bay; why: string; onGoOn: (reason: string) => void }) {
  const [reason, setReason] = useState("");
  return (
    <Box sx={{ display: "grid", gap: 2 }} role="alert">
      <Typography data-step sx={{ ...HEAD, color: "error.main" }}>
        No film now
      </Typography>
      <Typography sx={SECOND}>{why}</Typography>
      {bay.lead ? (
        <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: "2fr 1fr" } }}>
          <TextField
            label="Why it goes on all the same"
            value={reason}
            onChange={(event) => setReason(event.target.value)}
            slotProps={{ htmlInput: { maxLength: 300 } }}
          />
          <Big low disabled={reason.trim() === ""} onClick={() => onGoOn(reason.trim())}>
            Go on with this reason
          </Big>
        </Box>
      ) : (
        <Typography sx={SECOND}>The lead can go on with a reason. Correct the readings at Bay.</Typography>
      )}
    </Box>
  );
}

/** The knife must leave this window, with the way to where that is mended. */
export function Held({ job, why, run }: { job: Job; why: string; run: Run }) {
  const window = job.windows.find((one) => one.id === run.window_id);
  return (
    <Box role="alert">
      <Typography data-step sx={{ ...HEAD, color: "error.main" }}>
        {run.refusal ? "No film on this glass" : "Held back"}
      </Typography>
      <Typography sx={SECOND}>{why}</Typography>
      {window && (
        <Typography
          component={Link}
          to={`/jobs/${job.id}/${window.held_at ?? "survey"}?w=${window.id}`}
          sx={{ fontSize: { xs: 20, sm: 30 }, display: "inline-block", mt: 2, minHeight: 44 }}
        >
          To where it is mended
        </Typography>
      )}
    </Box>
  );
}

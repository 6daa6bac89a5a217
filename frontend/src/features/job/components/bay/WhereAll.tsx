import { Box, Button } from "@mui/material";
import type { Job } from "../../../../api/client";
import { PaneShape } from "../../../../shared";
import { clock, type Bay, type Run } from "../../logic/bay";

/** Where every window stands, as one walks round; a touch goes there. */
export function WhereAll({
  job,
  bay,
  here,
  now,
  onOpen,
}: {
  job: Job;
  bay: Bay;
  here: string;
  now: number;
  onOpen: (name: string) => void;
}) {
  return (
    <Box
      role="group"
      aria-label="All windows"
      sx={{ display: "flex", gap: 2, overflowX: "auto", position: "relative" }}
    >
      {bay.runs.map((run) => (
        <Button
          key={run.name}
          variant={run.name === here ? "contained" : "outlined"}
          aria-current={run.name === here ? "step" : undefined}
          onClick={() => onOpen(run.name)}
          sx={{ minHeight: { xs: 56, sm: 88 }, minWidth: 88, flexShrink: 0, px: 1, lineHeight: 1.15 }}
        >
          <span>
            <Shape job={job} windowId={run.window_id} />
            {run.strip ? `${run.label}, old film` : run.label}
            <br />
            <b>{standsWords(run, now)}</b>
          </span>
        </Button>
      ))}
    </Box>
  );
}

const TALL = 26;

/** The pane as dark as it will be, small. */
function Shape({ job, windowId }: { job: Job; windowId: string | null }) {
  const window = job.windows.find((one) => one.id === windowId);
  const height = window?.pane.height_mm ?? 0;
  if (!window || window.pane.ring.length === 0 || height <= 0) return null;
  const scale = (TALL - 4) / height;
  const width = (window.pane.width_mm ?? 0) * scale + 4;
  return (
    <svg width={width} height={TALL} aria-hidden="true" style={{ display: "block", margin: "0 auto" }}>
      <PaneShape
        ring={window.pane.ring}
        measured={window.pane.measured}
        scale={scale}
        left={2}
        base={TALL - 2}
        fill={window.shade.backdrop}
        stroke="currentColor"
        strokeWidth={1}
      />
    </svg>
  );
}

export function standsWords(run: Run, now: number): string {
  if (run.refusal) return "no film";
  if (run.done) return "✓ done";
  if (run.waits_until && Date.parse(run.waits_until) > now)
    return `waits ${clock(Date.parse(run.waits_until) - now)}`;
  if (run.paused) return "paused";
  const done = run.steps.filter((step) => step.done).length;
  return done ? `${String(done)} of ${String(run.steps.length)}` : "not begun";
}

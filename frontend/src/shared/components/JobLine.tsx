import { Box, Typography, useTheme } from "@mui/material";
import { Link } from "react-router";
import type { JobBrief } from "../../api/client";
import { STATE_WORDS } from "../logic/states";
import { showPromise } from "../logic/format";
import { useHome } from "../useHome";
import { PaneShape } from "./PaneShape";
import { VerdictMark } from "./VerdictMark";

const BAND_HEIGHT = 40;
const GAP = 5;
const UNKNOWN_WIDTH = 26;

/** A job on one line: when it is promised, its glass as dark as it will be, what keeps it. */
export function JobLine({ job, showProblems }: { job: JobBrief; showProblems?: boolean }) {
  const home = useHome();
  return (
    <Box
      component={Link}
      to={`/jobs/${job.id}`}
      sx={{
        display: "block",
        color: "text.primary",
        textDecoration: "none",
        borderBottom: 1,
        borderColor: "divider",
        py: 1.25,
        px: 1,
        "&:hover": { bgcolor: "background.paper" },
      }}
    >
      <Box
        sx={{
          display: "flex",
          justifyContent: "space-between",
          columnGap: 2,
          rowGap: 0.75,
          alignItems: "center",
          flexWrap: "wrap",
        }}
      >
        <Box sx={{ minWidth: 220, flex: "1 1 0" }}>
          <Typography sx={{ fontWeight: 700, fontSize: "1.15rem" }}>
            {job.bay && !home ? `${job.bay} · ` : ""}
            {job.title}
          </Typography>
          <Typography variant="body2" color="text.secondary">
            {job.number} · {job.vehicle_label} · {job.states.join(", ")} · {STATE_WORDS[job.status]} ·{" "}
            {showPromise(job.promised_at)}
          </Typography>
        </Box>
        {job.problems.length ? (
          <Typography sx={{ color: "error.main", fontWeight: 700 }}>! held back</Typography>
        ) : (
          <VerdictMark word={job.worst} />
        )}
        <Box sx={{ flexBasis: "100%" }}>
          <SmallBand job={job} />
        </Box>
      </Box>
      {showProblems && (
        <Box component="ul" sx={{ m: 0, mt: 0.5, pl: 2.5, color: "error.main" }}>
          {job.problems.slice(0, 4).map((problem) => (
            <li key={problem}>{problem}</li>
          ))}
          {job.problems.length > 4 && <li>and {job.problems.length - 4} more</li>}
        </Box>
      )}
    </Box>
  );
}

/** The car's glass in walkaround order, to one scale, as dark as it will be. */
function SmallBand({ job }: { job: JobBrief }) {
  const { inks } = useTheme();
  const tallest = Math.max(300, ...job.band.flatMap((pane) => pane.ring.map(([, y = 0]) => y)));
  const scale = (BAND_HEIGHT - 2) / tallest;
  const widths = job.band.map((pane) =>
    pane.ring.length ? Math.max(...pane.ring.map(([x = 0]) => x)) * scale : UNKNOWN_WIDTH,
  );
  const lefts = widths.map((_, i) => 1 + widths.slice(0, i).reduce((sum, width) => sum + width + GAP, 0));
  const total = 1 + widths.reduce((sum, width) => sum + width + GAP, 0);
  const panes = job.band.map((pane, i) => {
    const left = lefts[i] ?? 0;
    return pane.ring.length ? (
      <PaneShape
        key={i}
        ring={pane.ring}
        measured={pane.measured}
        scale={scale}
        left={left}
        base={BAND_HEIGHT - 1}
        fill={pane.backdrop}
        stroke={inks.ink}
        strokeWidth={1}
      />
    ) : (
      <rect
        key={i}
        x={left}
        y={BAND_HEIGHT - 21}
        width={UNKNOWN_WIDTH}
        height={20}
        fill="none"
        stroke={inks.soft}
        strokeDasharray="2 3"
      />
    );
  });
  return (
    <svg
      width={total}
      height={BAND_HEIGHT}
      viewBox={`0 0 ${String(total)} ${String(BAND_HEIGHT)}`}
      role="img"
      aria-label={`${String(job.measured)} of ${String(job.windows)} windows measured`}
      style={{ maxWidth: "100%" }}
    >
      {panes}
    </svg>
  );
}

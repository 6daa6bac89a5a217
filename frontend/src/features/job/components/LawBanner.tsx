import { Box, Button, Typography } from "@mui/material";
import type { Job } from "../../../api/client";
import { useJudgeAgain } from "../api";

/** Which law the job is judged by, and what has changed since. */
export function LawBanner({ job }: { job: Job }) {
  const { judgeAgain, pending } = useJudgeAgain(job.id);
  const { law } = job;
  if (law.changes.length === 0)
    return (
      <Typography variant="body2" color="text.secondary" sx={{ mt: 1.5 }}>
        Judged by the rule book of {law.day}, version {law.version}
        {law.revision > 0 ? `, the shop’s revision ${String(law.revision)}` : ""}. It informs; the law itself
        and the local officer’s meter decide.
      </Typography>
    );
  return (
    <Box
      role="status"
      data-law-changed
      sx={{ border: 2, borderColor: "secondary.main", bgcolor: "background.paper", p: 1.5, mb: 1.5 }}
    >
      <Typography sx={{ fontWeight: 700 }}>
        The rule book has changed since this job was judged on {law.day}.
      </Typography>
      <Box component="ul" sx={{ my: 0.5, pl: 3 }}>
        {law.changes.map((change) => (
          <li key={`${change.state}-${change.field}`}>
            {change.state}, {change.field.replace(/[._]/g, " ")}: {change.before} → {change.now}
          </li>
        ))}
      </Box>
      <Button variant="contained" color="secondary" disabled={pending} onClick={judgeAgain}>
        Judge again by today’s book
      </Button>
    </Box>
  );
}

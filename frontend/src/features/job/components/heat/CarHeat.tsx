import { Box, Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Job } from "../../../../api/client";
import { Answer, Empty, ErrorNote, Pending } from "../../../../shared";
import { carHeatQuery } from "../../heat";

/** The whole car: what each window takes, hardest first. */
export function CarHeat({ job, onSelect }: { job: Job; onSelect: (id: string) => void }) {
  const car = useQuery(carHeatQuery(job.id, job.input_hash));
  if (car.isPending) return <Pending what="what must shrink" />;
  if (car.isError) return <ErrorNote error={car.error} again={() => void car.refetch()} />;
  const { windows, headline, minutes } = car.data;
  if (windows.length === 0)
    return (
      <>
        <Answer>{headline}</Answer>
        <Empty words="Choose films at Shade: what must shrink is weighed against what the film takes. A window that is picked shows its map without one.">
          <Button component={Link} to={`/jobs/${job.id}/shade`}>
            Shade
          </Button>
        </Empty>
      </>
    );
  const bad = windows.some((one) => one.word === "will not shrink" || one.stuck !== "");
  return (
    <>
      <Answer
        tone={bad ? "bad" : "good"}
        why={minutes > 0 ? `About ${Math.round(minutes)} min of heat on this car.` : ""}
      >
        {headline}
      </Answer>
      {[...windows]
        .sort((a, b) => b.minutes - a.minutes)
        .map((one) => (
          <Box
            key={one.window_id}
            sx={{
              display: "flex",
              gap: 2,
              alignItems: "baseline",
              py: 1,
              borderBottom: 1,
              borderColor: "divider",
            }}
          >
            <Button
              variant="text"
              onClick={() => onSelect(one.window_id)}
              sx={{ minWidth: 200, justifyContent: "start" }}
            >
              {one.label}
            </Button>
            <Typography
              sx={{
                flexGrow: 1,
                color: one.word === "will not shrink" || one.stuck ? "error.main" : "text.primary",
              }}
            >
              {one.stuck || one.sentence}
            </Typography>
            <Typography sx={{ whiteSpace: "nowrap" }}>
              {one.minutes > 0 ? `${Math.round(one.minutes)} min` : ""}
            </Typography>
          </Box>
        ))}
    </>
  );
}

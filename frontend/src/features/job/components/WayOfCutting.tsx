import { Box, Typography } from "@mui/material";
import type { Job, JobWindow, Task } from "../../../api/client";
import { WORDS } from "../../../api/words";
import { capital, Choice, PickOne, Ruled } from "../../../shared";
import { useJobChange, useWindowChange } from "../api";

type Plan = NonNullable<Task["plan"]>;

/** How this car is cut; how the window is cut that is picked. */
export function WayOfCutting({ job, window }: { job: Job; window: JobWindow | null }) {
  const whole = useJobChange(job.id);
  const one = useWindowChange(job.id);
  const picked = window !== null && window.film_id !== null ? window : null;
  return (
    <Box sx={{ "@media print": { display: "none" }, width: 250, "& .MuiTextField-root": { width: 1 } }}>
      {picked ? (
        <PickOne
          label={`${picked.label} is cut`}
          value={picked.cut_method}
          none="as the whole car"
          options={Object.entries(WORDS.CutMethod)}
          onChange={(cut_method) =>
            one.change(picked.id, { cut_method: cut_method as JobWindow["cut_method"] })
          }
        />
      ) : (
        <Choice
          label="Way of cutting"
          value={job.cut_method}
          options={WORDS.CutMethod}
          onChange={(cut_method) => whole.change({ cut_method })}
        />
      )}
    </Box>
  );
}

/** The steps of every way of cutting in use, with its minutes. */
export function Ways({ plan }: { plan: Plan }) {
  const ways = new Map<string, Plan["films"][number]["ways"][number]>();
  for (const film of plan.films)
    for (const way of film.ways) {
      const before = ways.get(way.words);
      ways.set(way.words, {
        ...way,
        labels: [...(before?.labels ?? []), ...way.labels],
        minutes: (before?.minutes ?? 0) + way.minutes,
      });
    }
  const kits = plan.films.flatMap((film) => film.ready_cut.map((one) => one.label));
  return (
    <>
      {kits.length > 0 && (
        <Typography sx={{ my: 1 }}>
          <b>Ready cut, nothing to lay out:</b> {kits.join(", ")}
        </Typography>
      )}
      {[...ways.values()].map((way) => (
        <Ruled key={way.words} title={`${capital(way.words)}: about ${way.minutes.toFixed(0)} min`}>
          <Typography color="text.secondary">{way.labels.join(", ")}</Typography>
          <ol>
            {way.steps.map((step) => (
              <li key={step}>
                <Typography>{step}</Typography>
              </li>
            ))}
          </ol>
        </Ruled>
      ))}
    </>
  );
}

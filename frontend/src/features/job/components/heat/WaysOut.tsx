import { Box, Button, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Job, JobWindow, Schemas } from "../../../../api/client";
import { ErrorNote, Pending, Ruled, useNotify } from "../../../../shared";
import { useFilms, useWindowChange } from "../../api";
import { heatWaysQuery, type ShrinkView } from "../../heat";

type Way = Schemas["WayOut"];

/** What else would do: other way round, strips, other film, each with its cost beside the piece as it is. */
export function WaysOut({
  job,
  window,
  view,
  onTaken,
}: {
  job: Job;
  window: JobWindow;
  view: ShrinkView;
  onTaken: () => void;
}) {
  const ways = useQuery(heatWaysQuery(window.id, job.input_hash));
  const { change } = useWindowChange(job.id);
  const films = useFilms(job.id);
  const notify = useNotify();
  if (ways.isPending) return <Pending what="the ways out" />;
  if (ways.isError) return <ErrorNote error={ways.error} again={() => void ways.refetch()} />;
  const take = (way: Way) => {
    const before = {
      film_turned: window.film_turned,
      in_strips: window.in_strips,
      cross_line_mm: window.cross_line_mm,
      cross_slope: window.cross_slope,
    };
    onTaken();
    if (way.kind === "film")
      films.put(job, { [window.id]: way.film_id ?? null }, `${window.label}: ${way.words}.`);
    else {
      change(window.id, {
        film_turned: way.film_turned,
        in_strips: way.in_strips,
        cross_line_mm: null,
        cross_slope: 0,
      });
      notify(`${window.label}: ${way.words}.`, { undo: () => change(window.id, before) });
    }
  };
  return (
    <Ruled title="Ways, and what film and cutting cost">
      {ways.data.ways.map((way) => (
        <Box
          key={`${way.kind} ${way.film_id ?? ""}`}
          data-way={way.kind}
          sx={{
            display: "flex",
            gap: 1.5,
            alignItems: "center",
            py: 0.5,
            borderBottom: 1,
            borderColor: "divider",
          }}
        >
          <Box sx={{ flexGrow: 1 }}>
            <Typography sx={{ fontWeight: 700, color: way.works ? "text.primary" : "error.main" }}>
              {way.words}
            </Typography>
            <Typography variant="body2" color="text.secondary">
              {way.why}
              {way.minutes > 0 && ` About ${Math.round(way.minutes)} min of heat.`}
            </Typography>
          </Box>
          <Typography variant="body2" sx={{ whiteSpace: "nowrap", fontWeight: 600 }}>
            {moneyWords(way)}
          </Typography>
          {way.works && !isSo(way, window) && (
            <Button size="small" onClick={() => take(way)} aria-label={`Take it: ${way.words}`}>
              Take it
            </Button>
          )}
        </Box>
      ))}
      {view.held !== "" && <AllTheSame job={job} window={window} />}
      {window.one_piece_because !== "" && window.one_piece_film === window.film_id && (
        <Typography sx={{ mt: 1 }}>
          Cut in one piece all the same: {window.one_piece_because}{" "}
          <Button
            size="small"
            variant="text"
            onClick={() => change(window.id, { one_piece_because: "", one_piece_film: "" })}
          >
            Take that back
          </Button>
        </Typography>
      )}
    </Ruled>
  );
}

function isSo(way: Way, window: JobWindow): boolean {
  if (way.kind === "film" || way.kind === "anchor") return false;
  return way.film_turned === window.film_turned && way.in_strips === window.in_strips;
}

function moneyWords(way: Way): string {
  if (!way.enough) return way.shrink === null ? "" : "not enough on the rack";
  if (way.dollars === null) return "";
  const whole = `$${way.dollars.toFixed(2)}`;
  if (way.more_dollars === null || Math.abs(way.more_dollars) < 0.005) return whole;
  const more = `${way.more_dollars > 0 ? "+" : "−"}$${Math.abs(way.more_dollars).toFixed(2)}`;
  return `${whole} (${more})`;
}

/** Somebody who has done it before may stand by one piece; why is kept. */
function AllTheSame({ job, window }: { job: Job; window: JobWindow }) {
  const [why, setWhy] = useState("");
  const { change } = useWindowChange(job.id);
  return (
    <Box sx={{ display: "flex", gap: 1, mt: 1.5, alignItems: "center" }}>
      <TextField
        label="Cut one piece all the same, because"
        value={why}
        onChange={(event) => setWhy(event.target.value)}
        slotProps={{ htmlInput: { maxLength: 200 } }}
        sx={{ flexGrow: 1 }}
      />
      <Button
        disabled={why.trim() === ""}
        onClick={() =>
          change(window.id, { one_piece_because: why.trim(), one_piece_film: window.film_id ?? "" })
        }
      >
        Stand by it
      </Button>
    </Box>
  );
}

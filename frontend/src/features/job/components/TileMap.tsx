import { Box, Button, Typography, useTheme } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Job, Schemas } from "../../../api/client";
import { Answer, ErrorNote, Pending, VerdictGlyph, VerdictMark, type Word } from "../../../shared";
import { everywhereQuery, useJobChange } from "../api";
import { COLUMNS, TILES } from "../logic/tiles";

type Elsewhere = Schemas["Elsewhere"];
const MOST_STATES = 6;
const WORDS: Word[] = ["Clears", "Close", "Cannot tell", "No rule on file", "Too dark", "Not allowed"];

/** The plan in every state: one tile each, by mark and colour, with the reasons for the one picked. */
export function TileMap({ job }: { job: Job }) {
  const found = useQuery(everywhereQuery(job.id, job.input_hash));
  const [picked, setPicked] = useState(job.states[0] ?? "TX");
  if (found.isPending) return <Pending what="every state’s answer" />;
  if (found.isError) return <ErrorNote error={found.error} again={() => void found.refetch()} />;
  const { states, day } = found.data;
  const here = states.find((state) => state.code === picked);
  const clearing = states.filter((state) => state.word === "Clears").length;
  return (
    <>
      <Answer
        why={`By the rule book of ${day}. A tile’s mark is the worst of all windows with film; pick one for the reasons.`}
      >
        {job.windows.some((window) => window.film_id)
          ? `Clears in ${String(clearing)} of ${String(states.length)}`
          : "No film chosen yet"}
      </Answer>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "minmax(0, 7fr) minmax(0, 4fr)" },
          gap: 3,
        }}
      >
        <Box>
          <Box
            role="group"
            aria-label="States"
            sx={{
              display: "grid",
              gridTemplateColumns: `repeat(${String(COLUMNS)}, minmax(0, 1fr))`,
              gap: "3px",
            }}
          >
            {states.map((state) => (
              <Tile
                key={state.code}
                state={state}
                picked={state.code === picked}
                onPick={() => {
                  setPicked(state.code);
                }}
              />
            ))}
          </Box>
          <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap", mt: 1.5 }}>
            {WORDS.map((word) => (
              <VerdictMark key={word} word={word} size={15} />
            ))}
          </Box>
        </Box>
        {here && <Picked job={job} state={here} />}
      </Box>
    </>
  );
}

function Tile({ state, picked, onPick }: { state: Elsewhere; picked: boolean; onPick: () => void }) {
  const { inks } = useTheme();
  const place = TILES[state.code];
  if (!place) return null;
  return (
    <Box
      component="button"
      type="button"
      aria-label={`${state.code}, ${state.name}: ${state.word ?? "no film"}`}
      aria-pressed={picked}
      data-tile={state.code}
      onClick={onPick}
      sx={{
        gridColumn: place[0] + 1,
        gridRow: place[1] + 1,
        aspectRatio: "1 / 0.76",
        minWidth: 0,
        p: 0,
        font: "inherit",
        cursor: "pointer",
        color: inks.ink,
        background: inks.sheet,
        border: picked ? `4px solid ${inks.sun}` : `1px solid ${inks.soft}`,
        display: "flex",
        flexDirection: "column",
        alignItems: "center",
        justifyContent: "center",
        gap: "2px",
      }}
    >
      <Box component="span" sx={{ fontWeight: 700, fontSize: "0.95rem", lineHeight: 1 }}>
        {state.code}
      </Box>
      {state.word && <VerdictGlyph word={state.word} size={17} />}
    </Box>
  );
}

function Picked({ job, state }: { job: Job; state: Elsewhere }) {
  const { change } = useJobChange(job.id);
  const of = job.states.includes(state.code);
  return (
    <Box aria-live="polite">
      <Box sx={{ display: "flex", gap: 2, alignItems: "center", flexWrap: "wrap", mb: 1 }}>
        <Typography variant="h2" component="h2">
          {state.name}
        </Typography>
        <VerdictMark word={state.word} />
      </Box>
      {state.windows.length === 0 && (
        <Typography>
          {state.word === null ? "No window has film." : "Every window with film clears here."}
        </Typography>
      )}
      {state.windows.map((window) => (
        <Box key={window.window_id} sx={{ py: 0.75, borderTop: 1, borderColor: "divider" }}>
          <Typography sx={{ fontWeight: 700 }}>
            {window.label}: {window.word}
          </Typography>
          <Typography variant="body2">{window.sentence}</Typography>
        </Box>
      ))}
      <Box sx={{ display: "flex", gap: 1.5, mt: 1.5, flexWrap: "wrap" }}>
        <Button component={Link} to={`/rules/${state.code}`}>
          Rule book
        </Button>
        {!of && job.states.length < MOST_STATES && (
          <Button
            onClick={() => {
              change({ states: [...job.states, state.code] });
            }}
          >
            Add {state.code}
          </Button>
        )}
        {!of && (
          <Button
            onClick={() => {
              change({ states: [state.code] });
            }}
          >
            {state.code} instead of {job.states.join(", ")}
          </Button>
        )}
      </Box>
    </Box>
  );
}

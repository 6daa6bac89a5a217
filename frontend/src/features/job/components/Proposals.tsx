import { Box, Button, Typography, useTheme } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Job, Schemas } from "../../../api/client";
import {
  Answer,
  Empty,
  ErrorNote,
  PaneShape,
  Pending,
  Row,
  showPercent,
  Switch,
  VerdictMark,
  type Word,
} from "../../../shared";
import { proposalsQuery, useFilms } from "../api";

type Looks = Schemas["Looks"];
type Proposal = Schemas["ProposalOut"];

const HOURS = { day: "Day", dusk: "Dusk", night: "Night" } as const;
const SEATS = { outside: "From outside", inside: "From inside" } as const;

/** Up to four lawful ways to film this car, side by side as they will look. */
export function Proposals({ job }: { job: Job }) {
  const found = useQuery(proposalsQuery(job.id, job.input_hash));
  const { put, pending } = useFilms(job.id);
  const [hour, setHour] = useState<Looks["hour"]>("day");
  const [seat, setSeat] = useState<Looks["seat"]>("outside");
  if (found.isPending) return <Pending what="proposals" />;
  if (found.isError) return <ErrorNote error={found.error} again={() => void found.refetch()} />;
  const colours = (looks: Looks[]) =>
    looks.find((look) => look.hour === hour && look.seat === seat)?.colours ?? {};
  const count = found.data.proposals.length;
  return (
    <>
      <Answer why="Each is checked as a whole against the law of the job’s states, from the films on the rack.">
        {count === 0
          ? "Nothing to propose"
          : `${String(count)} lawful ${count === 1 ? "way" : "ways"} to film it`}
      </Answer>
      <Box sx={{ mb: 2 }}>
        <Row>
          <Switch label="Hour" value={hour} options={HOURS} onChange={setHour} />
          <Switch label="Seen from" value={seat} options={SEATS} onChange={setSeat} />
        </Row>
      </Box>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "minmax(0, 1fr) minmax(0, 1fr)" },
          columnGap: 4,
          rowGap: 2,
        }}
      >
        <Box
          component="section"
          aria-label="As planned now"
          sx={{ borderTop: 2, borderColor: "text.primary", pt: 1 }}
        >
          <Typography
            variant="h2"
            component="h2"
            sx={{ minHeight: 40, display: "flex", alignItems: "center" }}
          >
            As planned now
          </Typography>
          <SmallBand job={job} colours={colours(found.data.now)} />
        </Box>
        {found.data.proposals.map((proposal) => (
          <OneProposal
            key={proposal.title}
            job={job}
            proposal={proposal}
            colours={colours(proposal.looks)}
            pending={pending}
            onTake={(films, words) => {
              put(job, films, words);
            }}
          />
        ))}
      </Box>
      {count === 0 && (
        <Empty words="The rack is empty, or this car has no side or rear glass listed.">
          <Button component={Link} to="/rack">
            Rack
          </Button>
        </Empty>
      )}
      <Typography variant="body2" color="text.secondary" sx={{ mt: 1 }}>
        Looks are computed in linear light; how bright dusk and night are to the eye is our starting value.
      </Typography>
    </>
  );
}

function OneProposal({
  job,
  proposal,
  colours,
  pending,
  onTake,
}: {
  job: Job;
  proposal: Proposal;
  colours: Record<string, string>;
  pending: boolean;
  onTake: (films: Record<string, string | null>, words: string) => void;
}) {
  const films = Object.fromEntries(proposal.windows.map((one) => [one.window_id, one.film_id]));
  const now = proposal.windows.every(
    (one) => job.windows.find((window) => window.id === one.window_id)?.film_id === one.film_id,
  );
  const words = proposal.windows.flatMap((one) => (one.word ? [one.word] : []));
  const worst: Word | null = words.find((word) => word !== "Clears") ?? words[0] ?? null;
  return (
    <Box
      component="section"
      aria-label={proposal.title}
      data-proposal={proposal.kinds[0]}
      sx={{ borderTop: 2, borderColor: "text.primary", pt: 1 }}
    >
      <Box sx={{ display: "flex", gap: 2, alignItems: "center", flexWrap: "wrap" }}>
        <Typography variant="h2" component="h2">
          {proposal.title}
        </Typography>
        <VerdictMark word={worst} />
        <Box sx={{ flexGrow: 1 }} />
        {now ? (
          <Typography sx={{ fontWeight: 700 }}>on the car now</Typography>
        ) : (
          <Button
            variant="contained"
            color="secondary"
            disabled={pending}
            onClick={() => {
              onTake(films, `${proposal.title}: on the car.`);
            }}
          >
            Take this one
          </Button>
        )}
      </Box>
      <SmallBand job={job} colours={colours} proposal={proposal} />
      {proposal.open_windows.length > 0 && (
        <Typography sx={{ fontWeight: 700 }}>
          No film on the rack is known to clear on{" "}
          {proposal.open_windows.map((id) => labelOf(job, id)).join(", ")}.
        </Typography>
      )}
      <Box component="details">
        <Box component="summary" sx={{ cursor: "pointer", fontWeight: 600, py: 1 }}>
          Window by window, and what else clears there
        </Box>
        <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
          {job.windows
            .flatMap((window) => proposal.windows.find((one) => one.window_id === window.id) ?? [])
            .map((one) => (
              <li key={one.window_id}>
                <b>{labelOf(job, one.window_id)}</b>: {filmName(job, one.film_id)}
                {one.vlt_percent !== null && `, ${showPercent(one.vlt_percent)}`}
                {one.alternatives.length > 0 && " · or "}
                {one.alternatives.map((id) => (
                  <Button
                    key={id}
                    size="small"
                    variant="text"
                    sx={{ textDecoration: "underline", px: 0.75, minWidth: 0 }}
                    disabled={pending}
                    aria-label={`Put ${filmName(job, id)} on ${labelOf(job, one.window_id)}`}
                    onClick={() => {
                      onTake(
                        { [one.window_id]: id },
                        `${filmName(job, id)} on ${labelOf(job, one.window_id)}.`,
                      );
                    }}
                  >
                    {filmName(job, id)}
                  </Button>
                ))}
              </li>
            ))}
        </Box>
      </Box>
    </Box>
  );
}

function labelOf(job: Job, id: string): string {
  return job.windows.find((window) => window.id === id)?.label ?? id;
}

function filmName(job: Job, id: string | null): string {
  return id === null ? "no film" : (job.films.find((film) => film.id === id)?.name ?? id);
}

const HEIGHT = 78;
const WIDTH = 590;
const LEAST = 68;

/** The walkaround band once more, small: all panes to one scale, in the colours of the hour. */
function SmallBand({
  job,
  colours,
  proposal,
}: {
  job: Job;
  colours: Record<string, string>;
  proposal?: Proposal;
}) {
  const { inks } = useTheme();
  const tallest = Math.max(300, ...job.windows.map((window) => window.pane.height_mm ?? 0));
  const total = job.windows.reduce((sum, window) => sum + (window.pane.width_mm ?? 0), 0);
  const scale = Math.min((HEIGHT - 10) / tallest, (WIDTH - 12 * job.windows.length) / Math.max(total, 1));
  return (
    <Box sx={{ display: "flex", gap: 0.5, overflowX: "auto", position: "relative", py: 0.5 }}>
      {job.windows.map((window) => {
        const width = Math.max(LEAST, (window.pane.width_mm ?? 0) * scale + 8);
        const one = proposal?.windows.find((other) => other.window_id === window.id);
        const film = filmName(job, one ? one.film_id : window.film_id);
        const percent = one ? one.vlt_percent : window.shade.vlt_percent;
        const colour = colours[window.id] ?? "none";
        return (
          <Box key={window.id} sx={{ flex: `0 0 ${String(width)}px` }}>
            <svg
              width={width}
              height={HEIGHT}
              role="img"
              aria-label={`${window.label}, ${film}`}
              data-colour={colour}
            >
              {window.pane.ring.length > 0 ? (
                <PaneShape
                  ring={window.pane.ring}
                  measured={window.pane.measured}
                  scale={scale}
                  left={4}
                  base={HEIGHT - 4}
                  fill={colour}
                  stroke={inks.ink}
                  strokeWidth={1.25}
                />
              ) : (
                <rect
                  x={4}
                  y={26}
                  width={56}
                  height={46}
                  fill={colour}
                  stroke={inks.soft}
                  strokeDasharray="2 4"
                />
              )}
            </svg>
            <Typography component="div" sx={{ fontSize: "0.86rem", lineHeight: 1.2 }}>
              {film}
            </Typography>
            <Typography component="div" color="text.secondary" sx={{ fontSize: "0.86rem" }}>
              {percent === null ? "" : showPercent(percent)}
            </Typography>
          </Box>
        );
      })}
    </Box>
  );
}

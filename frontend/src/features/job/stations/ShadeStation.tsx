import {
  Box,
  Button,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { lazy, Suspense } from "react";
import { useSearchParams } from "react-router";
import type { Job, JobWindow } from "../../../api/client";
import {
  Answer,
  bindingFirst,
  FromSurvey,
  onlyOnce,
  Pending,
  Ruled,
  showPercent,
  toneOf,
  VerdictMark,
} from "../../../shared";
import { FilmTable } from "../components/FilmTable";
import { InstalledForm } from "../components/InstalledForm";
import { LawBanner } from "../components/LawBanner";
import { ReasonPanel } from "../components/ReasonPanel";
import { HeatSide, ShadeWhy } from "../components/ShadeWhy";
import { StripPlanner } from "../components/StripPlanner";
import { VerdictPanel } from "../components/VerdictPanel";

const Proposals = lazy(async () => ({ default: (await import("../components/Proposals")).Proposals }));
const TileMap = lazy(async () => ({ default: (await import("../components/TileMap")).TileMap }));

interface Props {
  job: Job;
  window: JobWindow | null;
  onSelect: (id: string | null) => void;
}

/** How dark it will be, what the law says, and which film to take. */
export function ShadeStation({ job, window, onSelect }: Props) {
  if (!window) return <WholeCar job={job} onSelect={onSelect} />;
  const order = bindingFirst(window.verdicts);
  const asked = onlyOnce(
    order.flatMap((verdict) => verdict.questions.map((question) => ({ verdict, question }))),
    (one) => one.question,
  );
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1fr) minmax(0, 1fr)" },
        gap: 4,
      }}
    >
      <Box>
        <ShadeAnswer window={window} />
        {job.law.changes.length > 0 && <LawBanner job={job} />}
        <ReasonPanel job={job} window={window} />
        {order.map((verdict) => (
          <VerdictPanel
            key={verdict.state}
            job={job}
            verdict={verdict}
            questions={asked.filter((one) => one.verdict === verdict).map((one) => one.question)}
            open={verdict.word !== "Clears"}
          />
        ))}
        <FromSurvey
          notes={window.follows
            .filter((one) => one.read_by === "shade")
            .map((one) => ({ ...one, label: window.label }))}
        />
        {window.old_film && <OldFilm window={window} />}
        <ShadeWhy window={window} />
        {job.law.changes.length === 0 && <LawBanner job={job} />}
      </Box>
      <Box>
        {window.coverage === "strip" && <StripPlanner job={job} window={window} />}
        <FilmTable job={job} window={window} />
        <HeatSide window={window} />
        <InstalledForm key={window.id} job={job} window={window} />
      </Box>
    </Box>
  );
}

function OldFilm({ window }: { window: JobWindow }) {
  const words = window.old_film_stays
    ? window.bare_vlt_through_old_film || window.layers.length > 0
      ? "Old film stays on this glass and is part of the figure."
      : "Old film stays on this glass: meter through it at Survey, or name the film."
    : window.bare_vlt_through_old_film
      ? "The meter read through old film that comes off: the bare glass is not known until then."
      : "Old film comes off this glass: the figure holds once it is off.";
  return <Typography sx={{ my: 1 }}>{words}</Typography>;
}

function ShadeAnswer({ window }: { window: JobWindow }) {
  const { shade, worst } = window;
  const percent = shade.vlt_percent === null ? "" : `, ${showPercent(shade.vlt_percent)}`;
  if (worst === null)
    return (
      <Answer
        why={
          shade.vlt_percent === null
            ? "The bare glass is not known: read or meter it at Survey."
            : "Pick a film on the right."
        }
      >
        No film{percent}
      </Answer>
    );
  const [binding, ...others] = bindingFirst(window.verdicts);
  const also = others.map((verdict) => `${verdict.state_name}: ${verdict.word}`).join("; ");
  return (
    <Answer tone={toneOf(worst)} why={binding && `${binding.sentence} (${binding.citation})`}>
      {worst}
      {others.length > 0 && binding ? ` in ${binding.state_name}` : ""}
      {percent}
      {also && (
        <Typography
          component="span"
          sx={{ display: "block", color: "text.primary", fontWeight: 600, mt: 0.5 }}
        >
          {also}
        </Typography>
      )}
    </Answer>
  );
}

const VIEWS = [
  ["windows", "Windows"],
  ["proposals", "Proposals"],
  ["everywhere", "In every state"],
] as const;

function WholeCar({ job, onSelect }: { job: Job; onSelect: Props["onSelect"] }) {
  const [params, setParams] = useSearchParams();
  const view = VIEWS.find(([name]) => name === params.get("view"))?.[0] ?? "windows";
  return (
    <>
      <ToggleButtonGroup
        exclusive
        size="small"
        value={view}
        aria-label="Whole car"
        sx={{ mb: 2 }}
        onChange={(_, value: string | null) => {
          if (value)
            setParams(
              (before) => {
                before.set("view", value);
                return before;
              },
              { replace: true },
            );
        }}
      >
        {VIEWS.map(([value, words]) => (
          <ToggleButton key={value} value={value}>
            {words}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {job.law.changes.length > 0 && <LawBanner job={job} />}
      <Suspense fallback={<Pending what="the car" />}>
        {view === "windows" && <AllWindows job={job} onSelect={onSelect} />}
        {view === "proposals" && <Proposals job={job} />}
        {view === "everywhere" && <TileMap job={job} />}
      </Suspense>
    </>
  );
}

function AllWindows({ job, onSelect }: { job: Job; onSelect: Props["onSelect"] }) {
  const { worst } = job;
  const held = job.windows.filter((window) => window.held !== null);
  return (
    <>
      <Answer
        tone={toneOf(worst)}
        why={held.length ? `Held back: ${held.map((window) => window.label).join(", ")}.` : undefined}
      >
        {worst ? `Whole car: ${worst}` : "No film chosen yet"}
      </Answer>
      <Box sx={{ overflowX: "auto", position: "relative" }}>
        <Table size="small" aria-label="Shade of all windows">
          <TableHead>
            <TableRow>
              <TableCell>Window</TableCell>
              <TableCell>Film</TableCell>
              <TableCell align="right">Bare</TableCell>
              <TableCell align="right">With film</TableCell>
              <TableCell>Verdict</TableCell>
              <TableCell>Why</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {job.windows.map((window) => (
              <TableRow key={window.id} hover>
                <TableCell>
                  <Button
                    variant="text"
                    onClick={() => {
                      onSelect(window.id);
                    }}
                  >
                    {window.label}
                  </Button>
                </TableCell>
                <TableCell>{job.films.find((film) => film.id === window.film_id)?.name ?? "none"}</TableCell>
                <TableCell align="right">
                  {window.shade.bare_percent === null ? "?" : showPercent(window.shade.bare_percent)}
                </TableCell>
                <TableCell align="right">
                  {window.film_id && window.shade.vlt_percent !== null
                    ? showPercent(window.shade.vlt_percent)
                    : ""}
                </TableCell>
                <TableCell>
                  <VerdictMark word={window.worst} size={15} />
                </TableCell>
                <TableCell>
                  <Bound window={window} />
                  {window.reason?.standing && (
                    <Typography variant="body2" sx={{ fontWeight: 700 }}>
                      On record: {window.reason.words}
                    </Typography>
                  )}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </Box>
      <Papers job={job} />
    </>
  );
}

/** The answer that binds, with its state where there are several, and the others' words. */
function Bound({ window }: { window: JobWindow }) {
  const [binding, ...others] = bindingFirst(window.verdicts);
  if (!binding) return null;
  return (
    <>
      {others.length > 0 && <b>{binding.state_name}: </b>}
      {binding.sentence}
      {others.length > 0 && (
        <Typography variant="body2" color="text.secondary">
          {others.map((verdict) => `${verdict.state_name}: ${verdict.word}`).join("; ")}
        </Typography>
      )}
    </>
  );
}

/** Stickers, certificates, exemptions: what the states ask for besides the light. */
function Papers({ job }: { job: Job }) {
  return (
    <Box sx={{ mt: 3 }}>
      <Ruled title="On paper and on the glass">
        {job.law.papers.map((papers) => (
          <Box key={papers.state} sx={{ py: 0.75 }}>
            <Typography>
              <b>{papers.state_name}</b>: sticker or label{" "}
              {papers.sticker === "unknown" ? "not known" : papers.sticker}. {papers.sticker_note}
            </Typography>
            <Typography>
              Medical exemption: {papers.medical === "unknown" ? "not known" : papers.medical}.{" "}
              {papers.medical_note}
              {papers.unconfirmed && " Nobody has confirmed this."}
            </Typography>
          </Box>
        ))}
      </Ruled>
    </Box>
  );
}

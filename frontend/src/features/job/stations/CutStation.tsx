import { Box, Button, LinearProgress, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Job, JobWindow, Task } from "../../../api/client";
import {
  Answer,
  BladeCaution,
  CutBoard,
  Empty,
  ErrorNote,
  FromSurvey,
  Row,
  StopButton,
  useSettings,
} from "../../../shared";
import { useStopTask, useWindowChange, useJobChange } from "../api";
import { Cuttings, FilmIsCut } from "../components/FilmIsCut";
import { Held, HoldFilm } from "../components/HoldFilm";
import { WayOfCutting, Ways } from "../components/WayOfCutting";
import { OnSheet } from "../components/OnSheet";
import { SendToCutter } from "../components/SendToCutter";
import { useHand } from "../components/useHand";
import { HeldBack } from "../components/HeldBack";

interface Props {
  job: Job;
  window: JobWindow | null;
  task: Task | undefined;
  anyFilm: boolean;
  error: unknown;
  onSelect: (id: string | null) => void;
}

/** Height of what stands over the first drawing, and of each line of two held windows with their reasons. */
const ABOVE = 530;
const A_HELD_LINE = 76;

type Plan = NonNullable<Task["plan"]>;

/** What is ready for the knife and what is not; then which roll, which way round, how long, what is left. */
export function CutStation({ job, window, task, anyFilm, error, onSelect }: Props) {
  const hand = useHand(job);
  const windowChange = useWindowChange(job.id);
  if (!anyFilm)
    return (
      <>
        <Answer>Nothing to cut yet</Answer>
        <Empty words="No window has a film. Choose one at Shade, then the cut plan comes by itself.">
          <Button component={Link} to={`/jobs/${job.id}/shade`}>
            Shade
          </Button>
        </Empty>
      </>
    );
  if (error) return <ErrorNote error={error} />;
  // A plan of an older state of the job is not shown: it could be cut by mistake.
  const current = task && task.input_hash === job.input_hash ? task : undefined;
  const plan = current?.plan;
  const earlier = plan ?? (hand.film === null ? undefined : task?.plan);
  const working = !current || !["done", "failed"].includes(current.status);
  const held = job.windows.filter((one) => one.held !== null);
  // Nor is one acted on while a change of the job is being saved: it is of the job before that.
  const ready = current?.status === "done" && !hand.busy;
  return (
    <>
      <Row>
        <Answer tone={held.length || plan?.films.some((film) => film.unplaced.length > 0) ? "bad" : "good"}>
          {plan?.ready ?? job.readiness}
        </Answer>
        <Box sx={{ flexGrow: 1 }} />
        <WayOfCutting job={job} window={window} />
        {plan && plan.films.some((film) => film.pieces.length > 0) && (
          <>
            <HoldFilm job={job} ready={ready} />
            <FilmIsCut job={job} plan={plan} ready={ready} />
          </>
        )}
      </Row>
      <Held job={job} plan={plan} />
      <HeldBack job={job} held={held} lit={window?.id ?? null} />
      {working && <Working task={current} />}
      {current?.status === "failed" && <ErrorNote error={current.error} />}
      {current?.status === "done" && current.error && <Typography role="note">{current.error}</Typography>}
      {windowChange.error && <ErrorNote error={windowChange.error} />}
      {/* While pieces are moved by hand, the plan of a moment ago stays in its place, faint and out of reach. */}
      <Box
        inert={plan == null || hand.busy}
        aria-busy={plan == null || hand.busy}
        sx={{ opacity: plan == null ? 0.4 : 1, "@media print": plan == null ? { display: "none" } : {} }}
      >
        {earlier?.films.map((film) => (
          <CutBoard
            key={film.film_id}
            plan={film}
            lit={window?.id ?? null}
            onPick={onSelect}
            above={ABOVE + Math.ceil(held.length / 2) * A_HELD_LINE}
            mends={{
              piece: (item) => <Mend job={job} item={item} />,
              lessExtra: (windows) => {
                for (const one of windows) windowChange.change(one.window_id, { play_mm: one.play_mm });
              },
              otherFilm: (film) => {
                for (const id of film.window_ids) windowChange.change(id, { film_id: film.film_id });
              },
            }}
            films={earlier.films}
            hand={hand}
          />
        ))}
      </Box>
      {plan && <FromSurvey notes={plan.notes} />}
      {plan && <Ways plan={plan} />}
      {plan && plan.films.length + plan.held.length > 0 && <Papers job={job} plan={plan} ready={ready} />}
      <Cuttings job={job} />
    </>
  );
}

/** What one touch can do about a piece that has no film. */
function Mend({ job, item }: { job: Job; item: Plan["films"][number]["unplaced"][number] }) {
  const { change } = useWindowChange(job.id);
  const whole = useJobChange(job.id);
  const { showLength } = useSettings();
  const play = item.fits_with_play_mm;
  if (play !== null)
    return (
      <Button size="small" onClick={() => change(item.window_id, { play_mm: play })}>
        Fits with {showLength(play)} in each side: take it so
      </Button>
    );
  if (item.two_lots)
    return (
      <Button size="small" onClick={() => whole.change({ two_lots_allowed: true })}>
        Allow two lots on this car
      </Button>
    );
  return null;
}

function Working({ task }: { task: Task | undefined }) {
  const stop = useStopTask();
  return (
    <Box role="status" sx={{ mb: 1 }}>
      <Row>
        <Typography sx={{ fontWeight: 700 }}>
          {task?.plan ? "Verified, improving …" : "Laying out the pieces …"}
        </Typography>
        {task?.plan && <StopButton disabled={stop.pending} onStop={() => stop.write(task.id)} />}
      </Row>
      <LinearProgress
        color="secondary"
        aria-label="Layout is being improved"
        sx={{ maxWidth: 420, mt: 0.5 }}
      />
    </Box>
  );
}

function Papers({ job, plan, ready }: { job: Job; plan: Plan; ready: boolean }) {
  const sheet = `/api/jobs/${job.id}/cut-sheet.pdf`;
  return (
    <Box sx={{ mt: 2, "@media print": { display: "none" } }}>
      <Row>
        <Button
          component="a"
          variant="contained"
          color="secondary"
          href={`${sheet}?paper=letter`}
          download
          aria-disabled={!ready}
          disabled={!ready}
        >
          Cut sheet, Letter
        </Button>
        <Button component="a" href={`${sheet}?paper=a4`} download disabled={!ready}>
          Cut sheet, A4
        </Button>
        {(["letter", "roll"] as const).map((on) => (
          <Button
            key={on}
            component="a"
            href={`/api/jobs/${job.id}/piece-labels.pdf?on=${on}`}
            download
            disabled={!ready}
          >
            {on === "letter" ? "Piece labels, sheet" : "Piece labels, roll"}
          </Button>
        ))}
        {plan.films.map((film) => (
          <Button
            key={film.film_id}
            component="a"
            href={`/api/jobs/${job.id}/layout.svg?film_id=${film.film_id}`}
            download
            disabled={!ready}
          >
            SVG, {film.film_name}
          </Button>
        ))}
        {plan.films.flatMap((film) =>
          film.stocks
            .filter((stock) => stock.used_mm > 0)
            .flatMap((stock) => [
              film.pieces.some((one) => one.stock_id === stock.id && one.kind === "pattern") && ready && (
                <SendToCutter key={`${stock.id} send`} job={job} film={film} stock={stock} />
              ),
              ...(["dxf", "hpgl"] as const).map((kind) => (
                <Button
                  key={`${stock.id} ${kind}`}
                  component="a"
                  href={`/api/jobs/${job.id}/cutter.${kind}?film_id=${film.film_id}&stock_id=${stock.id}`}
                  download
                  disabled={!ready}
                >
                  {kind === "dxf" ? "DXF" : "HP-GL"}, {stock.label}
                </Button>
              )),
            ]),
        )}
        <OnSheet job={job} />
        <Button component={Link} to={`/together?jobs=${job.id}`}>
          Together with other cars
        </Button>
        <Button component="a" href={`/api/jobs/${job.id}/pieces.csv`} download disabled={!ready}>
          Pieces, CSV
        </Button>
        <BladeCaution />
      </Row>
    </Box>
  );
}

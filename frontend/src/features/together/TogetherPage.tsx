import { Box, Button, LinearProgress, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { FilmPlan, Task } from "../../api/client";
import { Problem } from "../../api/unwrap";
import {
  Answer,
  BladeCaution,
  BookFilm,
  CutBoard,
  Empty,
  ErrorNote,
  FromSurvey,
  Pending,
  Row,
  Ruled,
  showMoney,
  showPromise,
  StopButton,
  Tick,
  TwoColumns,
} from "../../shared";
import { dayCarsQuery, dayPlanQuery, dayTaskQuery, useDayCut, useStopDay, type DayCar } from "./api";
import { proposed } from "./choice";

/** Several cars cut together: which share a film, one layout for all, each car taken out with one touch. */
export function TogetherPage() {
  const cars = useQuery(dayCarsQuery());
  const [params, setParams] = useSearchParams();
  if (cars.isPending) return <Pending what="the cars" />;
  if (cars.isError) return <ErrorNote error={cars.error} again={() => void cars.refetch()} />;
  const all = cars.data.cars;
  const asked = params.get("jobs");
  const wanted = asked === null ? proposed(all) : asked.split(",");
  const chosen = all.map((car) => car.job_id).filter((id) => wanted.includes(id));
  const choose = (ids: readonly string[]) => setParams({ jobs: ids.join(",") }, { replace: true });
  return (
    <TwoColumns shares="2fr 5fr">
      <div>
        <Ruled title="Cars, first promised first">
          {all.length === 0 && <Empty words="No open job needs film cut. Choose films at Shade first." />}
          {all.map((car) => (
            <Car
              key={car.job_id}
              car={car}
              cars={all.filter((one) => chosen.includes(one.job_id))}
              chosen={chosen.includes(car.job_id)}
              onChoose={(yes) =>
                choose(yes ? [...chosen, car.job_id] : chosen.filter((id) => id !== car.job_id))
              }
            />
          ))}
        </Ruled>
        <BladeCaution />
      </div>
      <div>
        {chosen.length === 0 ? (
          <>
            <Answer>Which cars are cut together?</Answer>
            <Typography>
              Tick the cars. Those that get the same film are laid out on the same rolls, first promised
              first.
            </Typography>
          </>
        ) : (
          <DayPlan jobIds={chosen} />
        )}
      </div>
    </TwoColumns>
  );
}

interface CarProps {
  car: DayCar;
  /** Those that are cut together. */
  cars: readonly DayCar[];
  chosen: boolean;
  onChoose: (yes: boolean) => void;
}

/** One car: whether it is cut with the others, and which film it shares with whom. */
function Car({ car, cars, chosen, onChoose }: CarProps) {
  return (
    <Box sx={{ py: 0.5, borderBottom: 1, borderColor: "divider" }}>
      <Tick label={`${String(car.number)} ${car.title}`} value={chosen} onChange={onChoose} />
      <Typography variant="body2" sx={{ pl: 4 }}>
        {showPromise(car.promised_at)} ·{" "}
        {car.films
          .map((film) => {
            const others = cars.filter(
              (one) => one !== car && one.films.some((theirs) => theirs.film_id === film.film_id),
            );
            const shared =
              chosen && others.length ? ` (with ${others.map((one) => one.number).join(", ")})` : "";
            return `${film.name}, ${String(film.pieces)} ${film.pieces === 1 ? "piece" : "pieces"}${shared}`;
          })
          .join(" · ")}{" "}
        · <Link to={`/jobs/${car.job_id}/cut?w=all`}>job</Link>
      </Typography>
    </Box>
  );
}

function DayPlan({ jobIds }: { jobIds: readonly string[] }) {
  const asked = useQuery(dayPlanQuery(jobIds));
  const task = useQuery(dayTaskQuery(jobIds, asked.data?.id));
  const stop = useStopDay();
  if (asked.isError) return <ErrorNote error={asked.error} again={() => void asked.refetch()} />;
  const shown = task.data !== undefined && task.data.id === asked.data?.id ? task.data : null;
  const over = shown !== null && ["done", "failed", "cancelled"].includes(shown.status);
  return (
    <>
      {!over && (
        <Row>
          <LinearProgress color="secondary" aria-label="Layout is being improved" sx={{ width: 320 }} />
          {shown !== null && shown.plan !== null && (
            <StopButton disabled={stop.pending} onStop={() => stop.write(shown.id)} />
          )}
        </Row>
      )}
      {shown?.status === "failed" && <ErrorNote error={shown.error} />}
      {shown === null || shown.plan === null ? (
        <Answer>{over ? "No layout" : "Laying out …"}</Answer>
      ) : (
        <Planned jobIds={jobIds} task={shown} plan={shown.plan} ready={shown.status === "done"} />
      )}
    </>
  );
}

interface PlannedProps {
  jobIds: readonly string[];
  task: Task;
  plan: NonNullable<Task["plan"]>;
  ready: boolean;
}

function Planned({ jobIds, task, plan, ready }: PlannedProps) {
  const [booking, setBooking] = useState(false);
  const short = plan.films.some((film) => film.unplaced.length > 0);
  return (
    <>
      <Row>
        <Answer tone={plan.held.length > 0 || short ? "bad" : "good"}>{plan.ready}</Answer>
        <Box sx={{ flexGrow: 1 }} />
        {plan.films.some((film) => film.pieces.length > 0) && (
          <Button variant="contained" size="large" disabled={!ready} onClick={() => setBooking(true)}>
            Film is cut
          </Button>
        )}
      </Row>
      {plan.reserved.map((one) => (
        <Typography key={`${one.stock_id} ${one.words}`} variant="body2">
          Not planned on: {one.label}, held by {one.words}.
        </Typography>
      ))}
      {plan.films.map((film) => (
        <Box key={film.film_id}>
          <Saved film={film} />
          <CutBoard plan={film} films={plan.films} mends={null} above={420} />
        </Box>
      ))}
      {plan.held.length > 0 && (
        <Ruled title="Held back">
          {plan.held.map((one) => (
            <Typography key={one.window_id}>
              <b>{one.label} is held back.</b> {one.reason}
            </Typography>
          ))}
        </Ruled>
      )}
      <FromSurvey notes={plan.notes} />
      <Papers jobIds={jobIds} plan={plan} ready={ready} />
      {booking && <Booking jobIds={jobIds} task={task} plan={plan} onClose={() => setBooking(false)} />}
    </>
  );
}

function Papers({ jobIds, plan, ready }: Omit<PlannedProps, "task">) {
  const jobs = jobIds.join(",");
  return (
    <Row>
      {(["letter", "a4"] as const).map((paper) => (
        <Button
          key={paper}
          component="a"
          href={`/api/day/cut-sheet.pdf?jobs=${jobs}&paper=${paper}`}
          download
          disabled={!ready}
          {...(paper === "letter" ? { variant: "contained", color: "secondary" } : {})}
        >
          {paper === "letter" ? "Cut sheet, Letter" : "Cut sheet, A4"}
        </Button>
      ))}
      <Button component="a" href={`/api/day/piece-labels.pdf?jobs=${jobs}`} download disabled={!ready}>
        Piece labels
      </Button>
      {plan.films.map((film) => (
        <Button
          key={film.film_id}
          component="a"
          href={`/api/day/layout.svg?jobs=${jobs}&film_id=${film.film_id}`}
          download
          disabled={!ready}
        >
          SVG, {film.film_name}
        </Button>
      ))}
    </Row>
  );
}

/** What cutting together saves, beside every car's own plan. */
function Saved({ film }: { film: FilmPlan }) {
  const { each_alone: alone, score } = film;
  if (alone?.net == null || score.net === null) return null;
  const saved = alone.net - score.net;
  return (
    <Typography sx={{ fontWeight: 700, mt: 2 }}>
      {film.film_name}, shared by {film.shared_by.join(", ")}: {showMoney(score.net)} together,{" "}
      {showMoney(alone.net)} each by itself
      {saved >= 0.005 ? `; ${showMoney(saved)} saved.` : "; nothing saved this time."}
    </Typography>
  );
}

interface BookingProps {
  jobIds: readonly string[];
  task: Task;
  plan: NonNullable<Task["plan"]>;
  onClose: () => void;
}

function Booking({ jobIds, task, plan, onClose }: BookingProps) {
  const cut = useDayCut();
  const sure = cut.error instanceof Problem && cut.error.code === "ask_again";
  return (
    <BookFilm
      plan={plan}
      error={cut.error}
      pending={cut.pending}
      onBook={(keep) =>
        cut.write({ job_ids: [...jobIds], input_hash: task.input_hash, keep, sure }, { onSuccess: onClose })
      }
      onClose={onClose}
    />
  );
}

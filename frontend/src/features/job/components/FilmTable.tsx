import {
  Box,
  Button,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
  useTheme,
} from "@mui/material";
import { Link } from "react-router";
import type { Job, JobWindow } from "../../../api/client";
import { linearGrey, Ruled, showPercent, VerdictMark } from "../../../shared";
import { filmFor, useFilms, useWindowChange } from "../api";
import { otherSide, pairWords } from "../logic/windows";

/** Every film on this window, darkest first, and the three picks the law leaves. */
export function FilmTable({ job, window }: { job: Job; window: JobWindow }) {
  const { put, pending } = useFilms(job.id);
  const { inks } = useTheme();
  const chosen = job.films.find((film) => film.id === window.film_id);
  const plastic = window.glass_type === "plastic";
  const twins = otherSide(window, job.windows).filter((one) => one.glass_type !== "plastic");
  const pair = twins.length ? pairWords(window.position) : "";
  return (
    <Ruled
      title="Films, darkest first"
      action={
        <>
          <StripInstead job={job} window={window} />
          {chosen && (
            <Button
              variant="text"
              onClick={() => {
                put(job, filmFor(null, [window.id]), `${window.label} stays bare.`);
              }}
            >
              Take the film off
            </Button>
          )}
        </>
      }
    >
      <Picks
        job={job}
        window={window}
        disabled={pending || plastic}
        onTake={(id, name) => {
          put(job, filmFor(id, [window.id]), `${name} on ${window.label}.`);
        }}
      />
      {plastic && <Typography sx={{ fontWeight: 700 }}>This pane is plastic: no film.</Typography>}
      <Box sx={{ overflowX: "auto" }}>
        <Table size="small" aria-label="Films">
          <TableHead>
            <TableRow>
              <TableCell>Film</TableCell>
              <TableCell align="right">Sheet</TableCell>
              <TableCell align="right">With glass</TableCell>
              <TableCell>Verdict</TableCell>
              <TableCell />
            </TableRow>
          </TableHead>
          <TableBody>
            {window.choices.map((choice) => {
              const film = job.films.find((one) => one.id === choice.film_id);
              if (!film) return null;
              const here = film.id === window.film_id;
              return (
                <TableRow key={film.id} selected={here}>
                  <TableCell sx={{ fontWeight: here ? 700 : 500 }}>
                    <Box component={Link} to={`/films/${film.id}`} sx={{ color: "inherit" }}>
                      {film.name}
                    </Box>
                    {choice.stocked ? "" : " (not on the rack)"}
                    {film.lot && (
                      <Typography variant="body2" color="text.secondary" component="div">
                        lot {film.lot.lot} reads {showPercent(film.lot.vlt_percent)} (n {film.lot.readings})
                      </Typography>
                    )}
                  </TableCell>
                  <TableCell align="right">{showPercent(film.vlt_percent)}</TableCell>
                  <TableCell align="right" sx={{ whiteSpace: "nowrap" }}>
                    <Box
                      component="span"
                      aria-hidden="true"
                      sx={{
                        display: "inline-block",
                        width: 30,
                        height: 18,
                        mr: 1,
                        verticalAlign: "-3px",
                        border: `1px solid ${inks.ink}`,
                        bgcolor: choice.vlt_percent === null ? "transparent" : linearGrey(choice.vlt_percent),
                      }}
                    />
                    {choice.vlt_percent === null ? "?" : showPercent(choice.vlt_percent)}
                  </TableCell>
                  <TableCell>
                    <VerdictMark word={choice.word} size={15} />
                    {choice.spoils.length > 0 && (
                      <Typography variant="body2" sx={{ color: "error.main" }}>
                        makes{" "}
                        {choice.spoils
                          .map((id) => job.windows.find((one) => one.id === id)?.label)
                          .join(", ")}{" "}
                        unlawful
                      </Typography>
                    )}
                  </TableCell>
                  <TableCell align="right">
                    <Box sx={{ display: "flex", gap: 1, justifyContent: "flex-end", alignItems: "center" }}>
                      {here ? (
                        "chosen"
                      ) : (
                        <Button
                          size="small"
                          disabled={pending || plastic}
                          aria-label={`Choose ${film.name} for ${window.label}`}
                          onClick={() => {
                            put(job, filmFor(film.id, [window.id]), `${film.name} on ${window.label}.`);
                          }}
                        >
                          Choose
                        </Button>
                      )}
                      {pair && (!here || twins.some((one) => one.film_id !== film.id)) && (
                        <Button
                          size="small"
                          disabled={pending || plastic}
                          aria-label={`Choose ${film.name} for ${pair}`}
                          onClick={() => {
                            const ids = [window.id, ...twins.map((one) => one.id)];
                            put(job, filmFor(film.id, ids), `${film.name} on ${pair}.`);
                          }}
                        >
                          {pair}
                        </Button>
                      )}
                    </Box>
                  </TableCell>
                </TableRow>
              );
            })}
          </TableBody>
        </Table>
      </Box>
      {window.choices.length === 0 && (
        <Typography sx={{ my: 1 }}>
          No film is on file. <Link to="/films">Enter one first.</Link>
        </Typography>
      )}
      {chosen && (
        <Box sx={{ mt: 2, display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}>
          <Typography sx={{ mr: 1 }}>{chosen.name} also on:</Typography>
          {job.film_groups.map((group) => (
            <Button
              key={group.words}
              disabled={pending}
              onClick={() => {
                put(
                  job,
                  filmFor(chosen.id, group.window_ids),
                  `${chosen.name} on ${group.words.toLowerCase()}.`,
                );
              }}
            >
              {group.words}
            </Button>
          ))}
        </Box>
      )}
    </Ruled>
  );
}

function Picks({
  job,
  window,
  disabled,
  onTake,
}: {
  job: Job;
  window: JobWindow;
  disabled: boolean;
  onTake: (id: string, name: string) => void;
}) {
  const film = (id: string | null) => job.films.find((one) => one.id === id);
  const pick = (words: string, id: string | null, none: string) => {
    const found = film(id);
    return (
      <Typography
        component="div"
        sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap", minHeight: 48 }}
      >
        <span>
          {words}: <b>{found ? found.name : none}</b>
        </span>
        {found && found.id !== window.film_id && (
          <Button
            size="small"
            disabled={disabled}
            aria-label={`Take it: ${found.name}, ${words.toLowerCase()}`}
            onClick={() => {
              onTake(found.id, found.name);
            }}
          >
            Take it
          </Button>
        )}
      </Typography>
    );
  };
  const front = window.position === "front_side";
  return (
    <Box sx={{ my: 1 }}>
      {pick("Darkest on the rack that clears", window.darkest_clearing, "none")}
      {front &&
        job.rear_percent !== null &&
        pick(`Nearest to the rear, ${showPercent(job.rear_percent)}`, window.nearest_rear, "none clears")}
      {window.least_sheet && (
        <Typography>
          Any film from <b>{showPercent(window.least_sheet.sheet_percent)}</b> on its sheet clears the{" "}
          {showPercent(window.least_sheet.limit_percent)} set here, by light alone.
        </Typography>
      )}
    </Box>
  );
}

const TAKES_STRIP: readonly JobWindow["position"][] = ["windshield", "front_side"];

/** A strip at the top is offered wherever film may be refused on the whole pane. */
function StripInstead({ job, window }: { job: Job; window: JobWindow }) {
  const { change, pending } = useWindowChange(job.id);
  if (!TAKES_STRIP.includes(window.position)) return null;
  const strip = window.coverage === "strip";
  return (
    <Button
      variant="text"
      disabled={pending}
      onClick={() => change(window.id, { coverage: strip ? "full" : "strip" })}
    >
      {strip ? "Whole pane instead" : "Strip instead"}
    </Button>
  );
}

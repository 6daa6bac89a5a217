import {
  Autocomplete,
  Box,
  Button,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import {
  Answer,
  Clauses,
  Empty,
  ErrorNote,
  focusWhenShown,
  numberOf,
  Pending,
  QuestionAsk,
  questionKey,
  Row,
  showPercent,
  toneOf,
  VerdictFigures,
} from "../../shared";
import { pickListsQuery, rackQuery, ruleBookQuery } from "../../api/queries";
import { lookUpQuery, type LookUpAsk } from "./api";
import { answered, NOTHING_SAID } from "./logic/counter";

const LAST = "elumbra.look-up";
type VehicleClass = "passenger" | "multipurpose";
type Position = "front_side" | "rear_side" | "rear_window" | "windshield";
type Said = Omit<LookUpAsk, "state" | "film_id" | "window"> & { window?: LookUpAsk["window"] };

const POSITIONS: [Position, string][] = [
  ["front_side", "Front side"],
  ["rear_side", "Rear side"],
  ["rear_window", "Rear window"],
  ["windshield", "Windshield"],
];

/** At the counter, on a phone: state, window, film, and the answer. */
export function LookUpPage() {
  const book = useQuery(ruleBookQuery());
  const rack = useQuery(rackQuery());
  const [last] = useState(
    () =>
      JSON.parse(localStorage.getItem(LAST) ?? "{}") as {
        state?: string;
        vehicle_class?: VehicleClass;
      },
  );
  const lists = useQuery(pickListsQuery());
  const [chosen, setState] = useState<string | null>(last.state ?? null);
  const state = chosen ?? lists.data?.home.states[0] ?? null;
  const [vehicleClass, setClass] = useState<VehicleClass>(last.vehicle_class ?? "passenger");
  const [position, setPosition] = useState<Position>("front_side");
  const [film, setFilm] = useState<string | null>(null);
  const [glass, setGlass] = useState("");
  const [strip, setStrip] = useState(false);
  const { value: read, wrong } = numberOf(glass, 0, 100);
  const [said, setSaid] = useState<Said>(NOTHING_SAID);
  const ask: LookUpAsk | null =
    state && film
      ? {
          state,
          film_id: film,
          film: said.film ?? {},
          others: said.others ?? [],
          car: { ...said.car, vehicle_class: vehicleClass },
          window: {
            ...said.window,
            position,
            coverage: strip ? "strip" : "full",
            ...(read === undefined ? {} : { bare_readings_percent: [read] }),
          },
        }
      : null;
  const found = useQuery(lookUpQuery(ask));
  // The shop's own state is there before the field is: what comes later would wipe out what is being typed.
  if (book.isPending || rack.isPending || lists.isPending) return <Pending what="states and films" />;
  if (book.isError) return <ErrorNote error={book.error} again={() => void book.refetch()} />;
  if (rack.isError) return <ErrorNote error={rack.error} again={() => void rack.refetch()} />;
  const remember = (next: { state?: string | null; vehicle_class?: string }) => {
    localStorage.setItem(LAST, JSON.stringify({ state, vehicle_class: vehicleClass, ...next }));
  };
  const films = [...rack.data.films].sort((one, other) => one.vlt_percent - other.vlt_percent);
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1fr) minmax(0, 1fr)" },
        gap: 3,
      }}
    >
      <Box sx={{ order: { xs: 2, md: 1 }, display: "grid", gap: 2, alignContent: "start" }}>
        <Autocomplete
          options={book.data.states.map((one) => one.code)}
          getOptionLabel={(code) => book.data.states.find((one) => one.code === code)?.name ?? code}
          value={state}
          autoHighlight
          openOnFocus
          onChange={(_, code) => {
            setState(code);
            remember({ state: code });
          }}
          renderInput={(params) => (
            <TextField {...params} label="State" {...(state === null ? { inputRef: focusWhenShown } : {})} />
          )}
        />
        <ToggleButtonGroup
          exclusive
          fullWidth
          value={vehicleClass}
          aria-label="Class"
          onChange={(_, value: VehicleClass | null) => {
            if (value) {
              setClass(value);
              remember({ vehicle_class: value });
            }
          }}
        >
          <ToggleButton value="passenger">Passenger car</ToggleButton>
          <ToggleButton value="multipurpose">SUV, van, truck</ToggleButton>
        </ToggleButtonGroup>
        <ToggleButtonGroup
          exclusive
          fullWidth
          value={position}
          aria-label="Window"
          onChange={(_, value: Position | null) => {
            if (value) setPosition(value);
          }}
          sx={{ flexWrap: "wrap" }}
        >
          {POSITIONS.map(([value, words]) => (
            <ToggleButton key={value} value={value} sx={{ flex: "1 1 45%" }}>
              {words}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        <Row>
          <ToggleButton value="strip" selected={strip} onChange={() => setStrip(!strip)}>
            A strip only
          </ToggleButton>
          {said !== NOTHING_SAID && (
            <Button variant="text" onClick={() => setSaid(NOTHING_SAID)}>
              Another car: forget the answers
            </Button>
          )}
        </Row>
        <Box
          role="group"
          aria-label="Film"
          sx={{ display: "grid", gridTemplateColumns: "repeat(auto-fill, minmax(130px, 1fr))", gap: 1 }}
        >
          {films.map((one) => (
            <Button
              key={one.id}
              variant={film === one.id ? "contained" : "outlined"}
              aria-pressed={film === one.id}
              onClick={() => {
                setFilm(one.id);
              }}
              sx={{ minHeight: 56, flexDirection: "column" }}
            >
              {one.name}
              <Typography component="span" variant="caption">
                {showPercent(one.vlt_percent)}
              </Typography>
            </Button>
          ))}
        </Box>
        {films.length === 0 && (
          <Empty words="No film is on file.">
            <Button component={Link} to="/films">
              Enter one
            </Button>
          </Empty>
        )}
        <TextField
          label="Glass reads, % (if metered)"
          value={glass}
          error={Boolean(wrong)}
          helperText={wrong ?? "empty: our starting value"}
          onChange={(event) => {
            setGlass(event.target.value);
          }}
          slotProps={{ htmlInput: { inputMode: "decimal" } }}
        />
      </Box>
      <Box sx={{ order: { xs: 1, md: 2 } }} aria-live="polite">
        {!ask && (
          <Answer why="State, window, film: the answer comes by itself.">
            {state ? "Pick a film" : "Pick a state"}
          </Answer>
        )}
        {ask && found.isPending && <Pending what="the answer" />}
        {found.isError && <ErrorNote error={found.error} again={() => void found.refetch()} />}
        {found.data && ask && (
          <Box data-look-up={found.data.verdict.word}>
            <Answer tone={toneOf(found.data.verdict.word)} why={found.data.verdict.sentence}>
              {found.data.verdict.word}
              {found.data.vlt_percent === null ? "" : `, ${showPercent(found.data.vlt_percent)}`}
            </Answer>
            <VerdictFigures verdict={found.data.verdict} />
            {found.data.verdict.questions.map((question) => (
              <QuestionAsk
                key={questionKey(question)}
                question={question}
                state={found.data.verdict.state}
                saved={said.window?.readings?.[question.asks] ?? ""}
                onReply={(reply) => {
                  const { car, film, others = [], window } = answered(ask, question, reply);
                  setSaid({ car, film: film ?? {}, others, window });
                }}
              />
            ))}
            <Typography sx={{ my: 1 }}>
              {found.data.film_name} on{" "}
              {found.data.glass_percent === null ? "" : `${showPercent(found.data.glass_percent)} `}glass (
              {found.data.glass_words}).
            </Typography>
            <Clauses clauses={found.data.verdict.clauses} />
            <Typography variant="body2" color="text.secondary" sx={{ mt: 1 }}>
              {found.data.formula}{" "}
              {found.data.pm_points === null ? "" : `± ${found.data.pm_points.toFixed(1)}. `}
              {found.data.verdict.deciding.length > 0 && "The answer hangs on fields nobody has confirmed. "}
              It informs; the law and the local officer’s meter decide.{" "}
              <Link to={`/rules/${found.data.verdict.state}`}>Rule book</Link>
            </Typography>
          </Box>
        )}
      </Box>
    </Box>
  );
}

import { Box, Button, Checkbox, FormControlLabel, Typography } from "@mui/material";
import { Link } from "react-router";
import { ErrorNote, isHere, Ruled } from "../../../shared";
import type { CarOn, Decisions, Sheet } from "../api";
import type { Picked } from "../DayPage";
import { BlockPanel } from "./BlockPanel";
import { Rescue } from "./Rescue";

/** Beside the drawing: what was picked, what is in danger, and what people decide about the day. */
export function DayPanel({
  sheet,
  picked,
  onPick,
  onBook,
  decide,
  pending,
}: {
  sheet: Sheet;
  picked: Picked | null;
  onPick: (picked: Picked | null) => void;
  onBook: (jobId: string) => void;
  decide: (said: Decisions) => void;
  pending: boolean;
}) {
  const car = sheet.cars.find((one) => one.job_id === picked?.jobId);
  return (
    <Box component="aside" aria-label="About the day">
      {picked && (car || picked.block) && (
        <Ruled
          title={car ? `${car.number} ${car.title}` : "For several cars"}
          action={
            <Button size="small" onClick={() => onPick(null)}>
              Close
            </Button>
          }
        >
          {[...sheet.cannot, ...sheet.left_out]
            .filter((one) => one.job_id === picked.jobId)
            .map((one) => (
              <Trouble key={one.why} why={one.why} least={one.least} />
            ))}
          {picked.block && (
            <BlockPanel sheet={sheet} block={picked.block} decide={decide} pending={pending} />
          )}
          {car && <CarPanel sheet={sheet} car={car} decide={decide} onBook={onBook} />}
        </Ruled>
      )}
      {!picked && <Troubles sheet={sheet} onPick={(jobId) => onPick({ jobId, block: null })} />}
      {!picked && <Waits sheet={sheet} />}
      {!picked && <Decide sheet={sheet} decide={decide} />}
    </Box>
  );
}

function CarPanel({
  sheet,
  car,
  decide,
  onBook,
}: {
  sheet: Sheet;
  car: CarOn;
  decide: (said: Decisions) => void;
  onBook: (jobId: string) => void;
}) {
  const put = sheet.decided.bays[car.job_id] ?? "";
  return (
    <>
      {car.told && <Typography sx={{ mb: 1 }}>{car.told}</Typography>}
      {car.why_late && (
        <Typography sx={{ mb: 1, fontWeight: 700 }}>
          {car.late} min late by plan. {car.why_late}
        </Typography>
      )}
      {car.note && <Typography sx={{ mb: 1 }}>{car.note}</Typography>}
      <Typography>
        {car.work} min of work left{car.pick_up_words ? `; picked up ${car.pick_up_words}` : ""}.
      </Typography>
      {!isHere(car.status) && (
        <Box role="group" aria-label="Bay" sx={{ display: "flex", gap: 1, my: 1, flexWrap: "wrap" }}>
          {["", ...sheet.bays.map((bay) => bay.name)].map((bay) => (
            <Button
              key={bay}
              variant={bay === put ? "contained" : "outlined"}
              onClick={() => decide({ bays: { [car.job_id]: bay }, free_all: false })}
            >
              {bay || "Any bay"}
            </Button>
          ))}
        </Box>
      )}
      <Rescue sheet={sheet} car={car} />
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", mt: 1 }}>
        <Button onClick={() => onBook(car.job_id)}>{car.booked ? "Change the booking" : "Book it"}</Button>
        <Button component={Link} to={`/jobs/${car.job_id}/bay`}>
          To its bay
        </Button>
      </Box>
    </>
  );
}

/** Cars that are planned and cannot be cut before somebody answers: each leads to where that is done. */
function Waits({ sheet }: { sheet: Sheet }) {
  if (sheet.waits.length === 0) return null;
  return (
    <Ruled title="Waits for an answer">
      {sheet.waits.map((one) => (
        <Button
          key={one.job_id}
          component={Link}
          to={`/jobs/${one.job_id}/${one.station}?w=${one.window_id}`}
          fullWidth
          sx={{ justifyContent: "flex-start", textAlign: "left", whiteSpace: "normal", mb: 0.75 }}
        >
          {one.words}
        </Button>
      ))}
    </Ruled>
  );
}

/** What no plan can do, what does not fit, what is in danger: each with the way to mend it. */
function Troubles({ sheet, onPick }: { sheet: Sheet; onPick: (jobId: string) => void }) {
  const troubles = [...sheet.cannot, ...sheet.left_out];
  if (troubles.length + sheet.danger.length === 0)
    return (
      <Ruled title="Promises">
        <Typography>
          {sheet.tasks.length
            ? `Every promise is kept on ${Math.round(100 * sheet.sure)} of 100 days or more.`
            : "Nothing is planned."}
        </Typography>
        {sheet.told.map((words) => (
          <Typography key={words} sx={{ mt: 0.75 }}>
            {words}
          </Typography>
        ))}
      </Ruled>
    );
  return (
    <Ruled title="In danger">
      {troubles.map((one) => (
        <Trouble key={one.why} why={one.why} least={one.least} />
      ))}
      {sheet.danger.map((one) => (
        <Button
          key={one.job_id}
          fullWidth
          onClick={() => onPick(one.job_id)}
          sx={{
            justifyContent: "flex-start",
            textAlign: "left",
            whiteSpace: "normal",
            mb: 0.75,
            borderLeft: "6px solid",
            borderLeftColor: "error.main",
          }}
        >
          {one.words}
        </Button>
      ))}
      {sheet.told.map((words) => (
        <Typography key={words} sx={{ mt: 0.75 }}>
          {words}
        </Typography>
      ))}
    </Ruled>
  );
}

function Trouble({ why, least }: { why: string; least: string }) {
  return (
    <Box sx={{ borderLeft: 6, borderColor: "error.main", pl: 1.25, mb: 1 }}>
      <Typography sx={{ fontWeight: 700 }}>{why}</Typography>
      <Typography>{least}</Typography>
    </Box>
  );
}

/** What people decide about the day: who is away, what is cut together, how the weather is, how long it may go on. */
function Decide({ sheet, decide }: { sheet: Sheet; decide: (said: Decisions) => void }) {
  const { decided } = sheet;
  const byHand = decided.by_hand.length;
  return (
    <Ruled title="The day">
      {sheet.together.map((one) => (
        <FormControlLabel
          key={one.film_id}
          sx={{ display: "flex" }}
          label={`Cut ${one.name} for ${one.cars} cars together: saves ${one.saves} min`}
          control={
            <Checkbox
              checked={one.chosen}
              onChange={(_, on) =>
                decide({
                  together: on
                    ? [...decided.together, one.film_id]
                    : decided.together.filter((film) => film !== one.film_id),
                  free_all: false,
                })
              }
            />
          }
        />
      ))}
      {sheet.people.map((hand) => (
        <FormControlLabel
          key={hand.id}
          sx={{ display: "flex" }}
          label={`${hand.name} is here${hand.away && !decided.away[hand.id] ? `: ${hand.away}` : ""}`}
          disabled={Boolean(hand.away) && !decided.away[hand.id]}
          control={
            <Checkbox
              checked={!hand.away}
              onChange={(_, on) => decide({ away: { [hand.id]: on ? "" : "is away" }, free_all: false })}
            />
          }
        />
      ))}
      <FormControlLabel
        sx={{ display: "flex" }}
        label="Cold or wet: drying takes longer"
        control={
          <Checkbox checked={decided.damp} onChange={(_, damp) => decide({ damp, free_all: false })} />
        }
      />
      <FormControlLabel
        sx={{ display: "flex" }}
        label="No sun in the yard"
        control={
          <Checkbox checked={decided.no_sun} onChange={(_, no_sun) => decide({ no_sun, free_all: false })} />
        }
      />
      <Box role="group" aria-label="Overtime" sx={{ display: "flex", alignItems: "center", gap: 1, mt: 1 }}>
        <Typography>Overtime up to {decided.overtime} min</Typography>
        <Button
          aria-label="Less overtime"
          onClick={() => decide({ overtime: Math.max(0, decided.overtime - 15), free_all: false })}
        >
          −
        </Button>
        <Button
          aria-label="More overtime"
          onClick={() => decide({ overtime: Math.min(300, decided.overtime + 15), free_all: false })}
        >
          +
        </Button>
      </Box>
      {byHand > 0 && (
        <Button sx={{ mt: 1 }} onClick={() => decide({ free_all: true })}>
          Let go of {byHand} put by hand
        </Button>
      )}
      {sheet.people.length === 0 && (
        <ErrorNote error="Nobody who works in the bays is on file. Add people under People." />
      )}
    </Ruled>
  );
}

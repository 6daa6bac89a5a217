import { Box, Button, Checkbox, FormControlLabel, IconButton, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Schemas } from "../../../api/client";
import { Problem } from "../../../api/unwrap";
import {
  ErrorNote,
  Hours,
  Pending,
  Row,
  Ruled,
  spansOf,
  TextLine,
  useDraft,
  useNotify,
  wordsOf,
} from "../../../shared";
import { shopDayQuery, useNewCalendar, useSetShopDay } from "../api";

type Day = Schemas["ShopDayOut"];

/** Bays, hours, the sunny yard, the time zone: what the day sheet plans with. */
export function DaySettings() {
  const day = useQuery(shopDayQuery());
  return (
    <Ruled
      title="Bays and hours"
      action={
        <>
          <Button component={Link} to="/people">
            People and devices
          </Button>
          <Button component={Link} to="/day">
            Day sheet
          </Button>
        </>
      }
    >
      {day.isPending && <Pending what="bays and hours" />}
      {day.isError && <ErrorNote error={day.error} />}
      {day.data && <Fields day={day.data} />}
    </Ruled>
  );
}

function Fields({ day }: { day: Day }) {
  const set = useSetShopDay();
  const calendar = useNewCalendar();
  const notify = useNotify();
  const draft = useDraft({
    bays: day.bays,
    closed: day.closed_days.join(", "),
    sun: wordsOf(day.sun),
    zone: day.zone,
    yard: String(day.yard_places),
  });
  const { bays, closed, sun, zone, yard } = draft.fields;
  const setBays = (changed: Day["bays"]) => draft.set({ bays: changed });
  const fields = set.error instanceof Problem ? set.error.fields : {};
  const sunny = spansOf(sun);
  const keep = (hours: Day["hours"]) =>
    set.write(
      {
        version: day.version,
        bays: bays.filter((bay) => bay.name.trim()),
        hours,
        closed_days: closed.split(/[,\s]+/).filter(Boolean),
        yard_places: Number(yard) || 0,
        sun: sunny ?? [],
        zone: zone.trim(),
      },
      {
        onSuccess: () => {
          draft.kept(draft.fields);
          notify("Bays and hours are kept.");
        },
      },
    );
  return (
    <>
      {bays.map((bay, i) => (
        <Row key={i}>
          <TextLine
            label={`Bay ${i + 1}`}
            value={bay.name}
            onChange={(name) => setBays(bays.map((one, j) => (j === i ? { ...one, name } : one)))}
          />
          <TextLine
            label="Behind the door"
            value={bay.door}
            onChange={(door) => setBays(bays.map((one, j) => (j === i ? { ...one, door } : one)))}
          />
          <FormControlLabel
            label="A raised hatch blocks that door"
            control={
              <Checkbox
                checked={bay.under_door}
                onChange={(_, under_door) =>
                  setBays(bays.map((one, j) => (j === i ? { ...one, under_door } : one)))
                }
              />
            }
          />
          <IconButton
            aria-label={`Take ${bay.name} off`}
            onClick={() => setBays(bays.filter((_, j) => j !== i))}
          >
            ×
          </IconButton>
        </Row>
      ))}
      <Button
        onClick={() => setBays([...bays, { name: `Bay ${bays.length + 1}`, door: "", under_door: false }])}
        disabled={bays.length >= 12}
      >
        Another bay
      </Button>
      <Row>
        <TextLine
          label="Closed on"
          value={closed}
          onChange={(typed) => draft.set({ closed: typed })}
          problem={fields["closed_days"]}
          hint="Such as 2026-12-25"
        />
        <TextLine
          label="Sun in the yard"
          value={sun}
          onChange={(typed) => draft.set({ sun: typed })}
          problem={sunny === null ? "As 10:00-15:00" : fields["hours"]}
        />
        <TextLine
          label="Cars that the sunny yard holds"
          value={yard}
          onChange={(typed) => draft.set({ yard: typed })}
          inputMode="numeric"
        />
        <TextLine
          label="Time zone"
          value={zone}
          onChange={(typed) => draft.set({ zone: typed })}
          problem={fields["zone"]}
          hint={`This machine: ${day.machine_zone}`}
        />
      </Row>
      <Hours
        title="The shop is open"
        hours={day.hours}
        onKeep={(hours) => {
          if (hours && sunny !== null) keep(hours);
        }}
      />
      {set.error && <ErrorNote error={set.error} />}
      <Box sx={{ mt: 1 }}>
        <Typography>
          Calendar programs follow the bookings at{" "}
          {day.calendar ? <code>{window.location.origin + day.calendar}</code> : "no address yet"}.
        </Typography>
        <Button onClick={() => calendar.write(null)} disabled={calendar.pending}>
          {day.calendar ? "Another address; the old one ends" : "Make an address"}
        </Button>
      </Box>
    </>
  );
}

import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  MenuItem,
  TextField,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../../api/client";
import { Problem } from "../../../api/unwrap";
import { ErrorNote, Pending, TextLine, Tick, useDraft, useNotify } from "../../../shared";
import { bookingQuery, openJobsQuery, promiseQuery, useBook, useUnbook } from "../api";
import { momentOf, wallOf } from "../logic/zone";

/** Book a car: when it comes, what may honestly be promised, when it is picked up. */
export function BookDialog({
  jobId,
  day,
  zone,
  onClose,
}: {
  jobId: string;
  day: string;
  zone: string;
  onClose: () => void;
}) {
  const [chosen, setChosen] = useState(jobId);
  const jobs = useQuery(openJobsQuery());
  const open = jobs.data ? [...jobs.data.in_bays, ...jobs.data.next, ...jobs.data.stuck] : [];
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="book-title">
      <DialogTitle id="book-title">Book a car</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 1.5 }}>
        {jobs.isPending && <Pending what="the open jobs" />}
        <TextField
          select
          label="Job"
          value={open.some((job) => job.id === chosen) ? chosen : ""}
          onChange={(event) => setChosen(event.target.value)}
          sx={{ mt: 1 }}
        >
          {open.map((job) => (
            <MenuItem key={job.id} value={job.id}>
              {job.number} {job.vehicle_label}
              {job.customer ? `, ${job.customer}` : ""}
            </MenuItem>
          ))}
        </TextField>
        {chosen ? (
          <Booked key={chosen} jobId={chosen} day={day} zone={zone} onClose={onClose} />
        ) : (
          <DialogActions>
            <Button component={Link} to="/jobs/new">
              The car has no job yet: new job
            </Button>
            <Button onClick={onClose}>Close</Button>
          </DialogActions>
        )}
      </DialogContent>
    </Dialog>
  );
}

function Booked(props: { jobId: string; day: string; zone: string; onClose: () => void }) {
  const booking = useQuery(bookingQuery(props.jobId));
  if (booking.isPending) return <Pending what="the booking" />;
  if (booking.isError) return <ErrorNote error={booking.error} />;
  return <Fields {...props} booking={booking.data} />;
}

function Fields({
  jobId,
  day,
  zone,
  booking,
  onClose,
}: {
  jobId: string;
  day: string;
  zone: string;
  booking: Schemas["BookingOut"];
  onClose: () => void;
}) {
  const wall = (iso: string | null) => (iso ? wallOf(iso, zone) : "");
  const draft = useDraft({
    comes: wall(booking.drop_off_at) || `${day}T08:30`,
    promised: wall(booking.promised_at),
    from: wall(booking.pick_up_from),
    until: wall(booking.pick_up_until),
    waits: booking.waits_here,
    note: booking.note,
  });
  const said = draft.fields;
  const [ask, setAsk] = useState<string | null>(null);
  const honest = useQuery(promiseQuery(jobId, ask, ask !== null));
  const book = useBook(jobId);
  const unbook = useUnbook(jobId);
  const notify = useNotify();
  const fields = book.error instanceof Problem ? book.error.fields : {};
  const time = (label: string, name: "comes" | "promised" | "from" | "until", field: string) => (
    <TextField
      type="datetime-local"
      label={label}
      value={said[name]}
      error={Boolean(fields[field])}
      helperText={fields[field]}
      onChange={(event) => draft.set({ [name]: event.target.value })}
      slotProps={{ inputLabel: { shrink: true } }}
    />
  );
  const moment = (text: string) => (text ? momentOf(text, zone) : null);
  const comes = moment(said.comes);
  // What was found holds for the time it was asked for, or the one that it asked for itself.
  const asked =
    comes !== null &&
    (comes === ask || (honest.data?.drop_off_at != null && wall(honest.data.drop_off_at) === said.comes));
  const found = asked ? honest.data : undefined;
  // The time that was found is the one that is booked, unless another was typed.
  const promised = said.promised || (found?.at ? wall(found.at) : "");
  const offered = found?.at !== null && found?.at !== undefined && promised === wall(found.at);
  const arrives = offered ? arrival(found, said.comes, wall) : said.comes;
  const keep = () =>
    comes &&
    book.write(
      {
        version: booking.version,
        job_version: booking.job_version,
        drop_off_at: momentOf(arrives, zone),
        pick_up_from: moment(said.from),
        pick_up_until: moment(said.until),
        promised_at: moment(promised),
        chance: offered ? found.kept : null,
        waits_here: said.waits,
        note: said.note,
      },
      {
        onSuccess: () => {
          notify("Booked.");
          onClose();
        },
      },
    );
  return (
    <>
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" }, gap: 2 }}>
        {time("Comes", "comes", "drop_off_at")}
        {time("Promised for", "promised", "promised_at")}
      </Box>
      <Box sx={{ border: 1, borderColor: "divider", p: 1.5 }}>
        <Button variant="contained" disabled={!comes || honest.isFetching} onClick={() => setAsk(comes)}>
          {honest.isFetching ? "Playing a thousand days …" : "Earliest honest time"}
        </Button>
        {honest.error && <ErrorNote error={honest.error} />}
        {found && (
          <>
            <Typography sx={{ fontSize: "1.7rem", fontWeight: 700, mt: 1 }} role="status">
              {found.at
                ? `${found.words}, kept on ${Math.round(100 * (found.kept ?? 0))} of 100 days`
                : found.words}
            </Typography>
            {found.told.map((words) => (
              <Typography key={words}>{words}</Typography>
            ))}
            {found.at && (
              <Button
                sx={{ mt: 1 }}
                onClick={() =>
                  draft.set({
                    promised: wall(found.at ?? null),
                    comes: arrival(found, said.comes, wall),
                  })
                }
              >
                Promise this
              </Button>
            )}
          </>
        )}
      </Box>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 2 }}>
        {time("Picked up from", "from", "pick_up_from")}
        {time("until", "until", "pick_up_until")}
      </Box>
      <Tick label="The customer waits here" value={said.waits} onChange={(waits) => draft.set({ waits })} />
      <TextLine label="Note" value={said.note} onChange={(note) => draft.set({ note })} />
      <Typography color="text.secondary">Times of {zone}.</Typography>
      {booking.promises.length > 0 && (
        <Typography color="text.secondary">
          Promised before:{" "}
          {booking.promises
            .map((one) => `${wallOf(one.promised_at, zone).replace("T", " ")} by ${one.person}`)
            .join("; ")}
        </Typography>
      )}
      {(book.error ?? unbook.error) && <ErrorNote error={book.error ?? unbook.error} />}
      <DialogActions sx={{ px: 0 }}>
        {booking.day && (
          <Button onClick={() => unbook.write({ version: booking.version }, { onSuccess: onClose })}>
            Take the booking back
          </Button>
        )}
        <Button onClick={onClose}>Close</Button>
        <Button variant="contained" color="secondary" disabled={!comes || book.pending} onClick={keep}>
          {booking.day ? "Keep" : promised ? "Book" : "Book without a promise"}
        </Button>
      </DialogActions>
    </>
  );
}

/** When the car comes for a time that was found: another day asks for another time. */
function arrival(found: Schemas["PromiseOut"], comes: string, wall: (iso: string | null) => string): string {
  return found.day && found.day !== comes.slice(0, 10) && found.drop_off_at ? wall(found.drop_off_at) : comes;
}

import { Box, Button, MenuItem, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Job, JobWindow, Schemas } from "../../../api/client";
import { Problem } from "../../../api/unwrap";
import { WORDS } from "../../../api/words";
import { ErrorNote } from "../../../shared";
import { filmFor, useFilms, useReason } from "../api";
import { ExemptionFields, NOTHING_SAID, paperOf, said, type Paper } from "./ExemptionFields";

type Kind = Schemas["ReasonIn"]["kind"];

/** A lawful film is offered before any of them; what the shop declined comes last. */
const KINDS: readonly Kind[] = [
  "medical_exemption",
  "off_road_or_show",
  "rule_looked_up",
  "glass_not_metered",
  "bare_glass_assumed",
  "declined_film_changed",
];

/** What can still be said of film that is on. */
const BY_PAPER: readonly Kind[] = ["medical_exemption", "off_road_or_show"];

const NEEDS_REASON: readonly string[] = ["Too dark", "Not allowed", "Within tolerance", "No rule on file"];

/** An unlawful wish: it goes on only by a lead's reason, and the verdict stays. */
export function ReasonPanel({ job, window }: { job: Job; window: JobWindow }) {
  const { reason } = window;
  const unlawful = window.worst !== null && NEEDS_REASON.includes(window.worst);
  if (reason && (reason.standing || !(unlawful || window.under_old_film)))
    return <OnRecord job={job} window={window} reason={reason} unlawful={unlawful} />;
  const unread = window.under_old_film;
  const unmetered = window.unmetered_percent > 0 && window.held_at === "survey";
  const goesOn = !unread && window.held_at !== "shade" && window.worst === "Within tolerance";
  if (!(unlawful || unread || unmetered) || goesOn || window.film_id === null) return null;
  return (
    <Box
      sx={{ border: 2, borderColor: "error.main", bgcolor: "background.paper", p: 1.5, my: 1.5 }}
      data-unlawful
    >
      <Typography sx={{ fontWeight: 700 }}>This film is not cut as it stands.</Typography>
      {!unread && !unmetered && <LawfulFilms job={job} window={window} />}
      <Typography sx={{ mb: 1.5 }}>
        {unread
          ? "The bare glass under the old film is assumed, and the law hangs on it: strip it and meter the glass. Or the lead gives"
          : unmetered
            ? `Nobody metered the glass: ${window.unmetered_percent.toFixed(0)} % chance a meter reads under. Meter it at Survey, or the lead gives`
            : "Or the lead gives"}{" "}
        a reason of one of these kinds. The verdict stays, and the reason is printed beside it on every paper.
      </Typography>
      {reason && (
        <Typography sx={{ mb: 1 }}>
          {reason.expired
            ? `The ${reason.words} has expired.`
            : reason.uncovered
              ? `${reason.uncovered} On record: ${reason.words}.`
              : `On record is a reason for another film: ${reason.words}.`}
        </Typography>
      )}
      <ReasonForm key={`${window.id}-${window.film_id}`} job={job} window={window} filmId={window.film_id} />
    </Box>
  );
}

/** By the meter or the ruler the finished window is not lawful: a paper covers that, else the film is redone. */
export function ReasonForReading({ job, window }: { job: Job; window: JobWindow }) {
  const [open, setOpen] = useState(false);
  if (window.film_id === null) return null;
  if (!open)
    return (
      <Box sx={{ my: 1.5 }}>
        <Typography sx={{ mb: 1 }}>
          It does not leave as it is: redo it with a lighter film, or the lead gives a reason.
        </Typography>
        <Button onClick={() => setOpen(true)}>Give a reason</Button>
      </Box>
    );
  return (
    <Box sx={{ my: 2 }}>
      <ReasonForm job={job} window={window} filmId={window.film_id} kinds={BY_PAPER} />
    </Box>
  );
}

/** What goes on lawfully, darkest first: one touch, before any reason. */
function LawfulFilms({ job, window }: { job: Job; window: JobWindow }) {
  const { pending, put } = useFilms(job.id);
  const clearing = window.choices.filter((one) => one.word === "Clears" && one.stocked);
  const darkest = [...clearing].sort((one, other) => (one.vlt_percent ?? 100) - (other.vlt_percent ?? 100));
  if (darkest.length === 0)
    return (
      <Typography sx={{ mb: 1 }}>No film on the rack clears here: take the film off instead.</Typography>
    );
  return (
    <Box role="group" aria-label="Lawful here" sx={{ display: "flex", flexWrap: "wrap", gap: 1, my: 1 }}>
      {darkest.slice(0, 3).map((one) => {
        const name = job.films.find((film) => film.id === one.film_id)?.name ?? one.film_id;
        return (
          <Button
            key={one.film_id}
            variant="contained"
            disabled={pending}
            onClick={() => {
              put(job, filmFor(one.film_id, [window.id]), `${name} on ${window.label}.`);
            }}
          >
            {name} clears
          </Button>
        );
      })}
    </Box>
  );
}

function OnRecord({
  job,
  window,
  reason,
  unlawful,
}: {
  job: Job;
  window: JobWindow;
  reason: NonNullable<JobWindow["reason"]>;
  unlawful: boolean;
}) {
  const { withdraw } = useReason(job.id);
  return (
    <Box
      sx={{
        border: 2,
        borderColor: unlawful ? "error.main" : "divider",
        bgcolor: "background.paper",
        p: 1.5,
        my: 1.5,
      }}
      data-reason
    >
      <Typography sx={{ fontWeight: 700 }}>
        {unlawful ? `${window.worst ?? ""}, and goes on by the lead’s reason` : "On record"}
      </Typography>
      <Typography>{reason.words}</Typography>
      <Typography variant="body2">The wish: {reason.wish}</Typography>
      <Button
        size="small"
        sx={{ mt: 1 }}
        onClick={() => {
          withdraw(reason.id, reason.version);
        }}
      >
        Withdraw the reason
      </Button>
    </Box>
  );
}

function firstKind(window: JobWindow, kinds: readonly Kind[]): Kind {
  const fits = window.under_old_film
    ? "bare_glass_assumed"
    : window.worst === "No rule on file"
      ? "rule_looked_up"
      : window.unmetered_percent > 0
        ? "glass_not_metered"
        : "medical_exemption";
  return kinds.includes(fits) ? fits : "medical_exemption";
}

const DOCUMENT: Record<Exclude<Kind, "declined_film_changed">, string> = {
  medical_exemption: "Number of the exemption",
  off_road_or_show: "Where the owner’s statement is kept",
  rule_looked_up: "Where it was looked up",
  glass_not_metered: "Why it is cut before it is metered",
  bare_glass_assumed: "What stands for the glass under the old film",
};

function ReasonForm({
  job,
  window,
  filmId,
  kinds = KINDS,
}: {
  job: Job;
  window: JobWindow;
  filmId: string;
  kinds?: readonly Kind[];
}) {
  const { give, pending, error } = useReason(job.id);
  const [kind, setKind] = useState<Kind>(() => firstKind(window, kinds));
  const [document, setDocument] = useState("");
  const [paper, setPaper] = useState<Paper>(() => paperOf(job));
  const [note, setNote] = useState("");
  const lawful = window.choices.filter((choice) => choice.word === "Clears" && choice.stocked);
  const [changeTo, setChangeTo] = useState(window.darkest_clearing ?? "");
  const fields = error instanceof Problem ? error.fields : {};
  const name = (id: string) => job.films.find((film) => film.id === id)?.name ?? id;
  const send = () => {
    give(
      window.id,
      {
        version: window.version,
        film_id: filmId,
        kind,
        document,
        note,
        ...(kind === "medical_exemption" ? said(paper) : NOTHING_SAID),
        change_to: kind === "declined_film_changed" ? changeTo || null : null,
      },
      () => {
        setNote("");
      },
    );
  };
  return (
    <Box sx={{ display: "grid", gap: 1.5 }}>
      {error && Object.keys(fields).length === 0 && <ErrorNote error={error} />}
      {fields["also"] && error && <ErrorNote error={error} />}
      <TextField
        select
        label="Reason"
        value={kind}
        onChange={(event) => {
          setKind(event.target.value as Kind);
        }}
        error={Boolean(fields["kind"])}
        helperText={fields["kind"]}
      >
        {kinds.map((value) => (
          <MenuItem key={value} value={value}>
            {WORDS.ReasonKind[value]}
          </MenuItem>
        ))}
      </TextField>
      {kind === "declined_film_changed" ? (
        <TextField
          select
          label="Film that goes on instead"
          value={changeTo}
          onChange={(event) => {
            setChangeTo(event.target.value);
          }}
          error={Boolean(fields["change_to"])}
          helperText={
            fields["change_to"] ??
            (lawful.length === 0 ? "No film on the rack clears here: take the film off instead." : undefined)
          }
        >
          {lawful.map((choice) => (
            <MenuItem key={choice.film_id} value={choice.film_id}>
              {name(choice.film_id)}
            </MenuItem>
          ))}
        </TextField>
      ) : (
        <TextField
          label={DOCUMENT[kind]}
          value={document}
          onChange={(event) => {
            setDocument(event.target.value);
          }}
          error={Boolean(fields["document"])}
          helperText={fields["document"]}
        />
      )}
      {kind === "medical_exemption" && (
        <ExemptionFields job={job} window={window} paper={paper} onChange={setPaper} fields={fields} />
      )}
      <TextField
        label="Note"
        value={note}
        onChange={(event) => {
          setNote(event.target.value);
        }}
      />
      <Box>
        <Button variant="contained" color="secondary" disabled={pending} onClick={send}>
          {kind === "declined_film_changed" ? "Record, and change the film" : "Give this reason"}
        </Button>
      </Box>
    </Box>
  );
}

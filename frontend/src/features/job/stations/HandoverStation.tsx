import { Box, Button, Checkbox, FormControlLabel, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Job } from "../../../api/client";
import { WORDS } from "../../../api/words";
import { Answer, ErrorNote, Pending, Ruled, TwoColumns } from "../../../shared";
import { Owner } from "../components/handover/Owner";
import { LetGo } from "../components/handover/LetGo";
import { Papers } from "../components/handover/Papers";
import { Redo } from "../components/handover/Redo";
import { SignOff } from "../components/handover/SignOff";
import { handoverQuery, useCheck, useHandOver, useNotGone, type Handover } from "../handover";

/** The car goes: what still holds it, what is put back, what is given along, and the signature. */
export function HandoverStation({ job }: { job: Job }) {
  const found = useQuery(handoverQuery(job.id, job.input_hash));
  if (!found.data)
    return found.isError ? (
      <ErrorNote error={found.error} again={() => void found.refetch()} />
    ) : (
      <Pending what="the hand-over" />
    );
  const car = found.data;
  const gone = car.handed_over_on !== "";
  return (
    <>
      <Answer tone={gone || car.held.length === 0 ? "good" : "bad"} why={cure(car)}>
        {car.headline}
      </Answer>
      <TwoColumns shares="1fr 1.05fr">
        <Box>
          {car.held.length > 0 && <Held job={job} car={car} />}
          {!gone && <Checklist job={job} car={car} />}
          {car.let_go.length > 0 && (
            <Ruled title="Left out">
              {car.let_go.map((one) => (
                <Typography key={`${one.words} ${one.at}`}>
                  {one.words} <span>({one.person})</span>
                </Typography>
              ))}
            </Ruled>
          )}
          <SignedOrSign job={job} car={car} gone={gone} />
          {gone && <Redo job={job} />}
        </Box>
        <Box>
          <Papers job={job} car={car} />
          <Owner job={job} />
          <Ruled title="Say this to the customer">
            {car.normal.map((words) => (
              <Typography key={words}>• {words}</Typography>
            ))}
          </Ruled>
        </Box>
      </TwoColumns>
    </>
  );
}

const DAY = new Intl.DateTimeFormat("en-US", {
  weekday: "long",
  month: "long",
  day: "numeric",
  timeZone: "UTC",
});

const cure = (car: Handover) =>
  `Windows up until ${DAY.format(new Date(`${car.up_until}T12:00:00Z`))}, ${String(car.cure_days)} days. ${car.cure_told}`;

function Held({ job, car }: { job: Job; car: Handover }) {
  const [asked, ask] = useState(false);
  const open = new Set(car.held.filter((one) => one.may_be_let_go).map((one) => one.window_id));
  const rest = job.windows.filter((window) => open.has(window.id));
  return (
    <Ruled title="Holds the car here">
      {car.held.map((one) => (
        <Box key={one.words} sx={{ display: "flex", gap: 1.5, alignItems: "center", py: 0.25 }}>
          <Typography sx={{ flexGrow: 1 }}>{one.words}</Typography>
          <Button
            size="small"
            component={Link}
            to={`/jobs/${job.id}/${one.station}${one.window_id ? `?w=${one.window_id}` : ""}`}
          >
            {WORDS.Station[one.station]}
          </Button>
        </Box>
      ))}
      {car.lead && rest.length > 0 && (
        <Button variant="text" onClick={() => ask(true)} sx={{ mt: 0.5 }}>
          Let the car go without {rest.length === 1 ? "it" : "some of it"} …
        </Button>
      )}
      {asked && <LetGo job={job} windows={rest} onClose={() => ask(false)} />}
    </Ruled>
  );
}

function Checklist({ job, car }: { job: Job; car: Handover }) {
  const check = useCheck(job.id);
  const open = car.checklist.filter((one) => !one.done);
  const done = car.checklist.length - open.length;
  return (
    <Ruled title={`Pick-up checklist, ${String(done)} of ${String(car.checklist.length)}`}>
      {open.length === 0 && <Typography>All of it is done.</Typography>}
      {open.map((one) => (
        <Box key={`${one.run}.${one.key}`}>
          <FormControlLabel
            control={
              <Checkbox
                checked={false}
                disabled={check.pending}
                onChange={() => check.write({ run: one.run, key: one.key })}
              />
            }
            label={one.words}
          />
        </Box>
      ))}
      {check.error && <ErrorNote error={check.error} />}
    </Ruled>
  );
}

function SignedOrSign({ job, car, gone }: { job: Job; car: Handover; gone: boolean }) {
  const hand = useHandOver(job.id);
  const back = useNotGone(job.id);
  const [why, setWhy] = useState("");
  if (gone)
    return (
      <Ruled title="Signed">
        <Typography sx={{ fontSize: 20, fontWeight: 700 }}>
          {car.signed
            ? `✓ ${car.signed.name}, ${car.signed.how === "paper" ? "on paper" : "on the glass"}`
            : "No signature is on record"}
        </Typography>
        {car.lead && (
          <Box sx={{ display: "flex", gap: 1, alignItems: "center", mt: 1, flexWrap: "wrap" }}>
            <TextField
              size="small"
              label="Why it is still here"
              value={why}
              onChange={(event) => setWhy(event.target.value)}
            />
            <Button
              variant="text"
              disabled={back.pending || why.trim() === ""}
              onClick={() => back.write({ version: car.version, reason: why })}
            >
              Undo the delivery
            </Button>
          </Box>
        )}
        {back.error && <ErrorNote error={back.error} />}
      </Ruled>
    );
  return (
    <Ruled title="The customer takes the car">
      {car.accepts && <Typography sx={{ mb: 1 }}>The signature also accepts {car.accepts}.</Typography>}
      <SignOff
        name={car.customer}
        words="Signed: the car goes"
        ways={["paper"]}
        pending={hand.pending}
        disabled={car.held.length > 0}
        error={hand.error}
        onSign={(name, how, signature) =>
          hand.write({ version: car.version, name, how: how === "spoken" ? "paper" : how, signature })
        }
      />
    </Ruled>
  );
}

import { Box, Button, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Job } from "../../../../api/client";
import { WORDS } from "../../../../api/words";
import {
  Choice,
  ErrorNote,
  Row,
  Ruled,
  Switch,
  showMoney,
  useFollowing,
  useNotify,
} from "../../../../shared";
import { decisionWords } from "../../logic/look";
import {
  useDecide,
  useFlawAnswer,
  useFlawChange,
  useLookAgain,
  useRemoveFlaw,
  type CarLook,
  type Decided,
  type Flaw,
} from "../../look";
import { Causes } from "./Causes";
import { MarkedPhoto } from "./MarkedPhoto";

const toInches = (mm: number | null) => (mm === null ? "" : `${String(Math.round(mm * 10) / 10)} mm`);

/** One flaw: what becomes of it, why it is likely there, what to do, and the look that closes it. */
export function FlawPanel({
  job,
  car,
  flaw,
  onGone,
}: {
  job: Job;
  car: CarLook;
  flaw: Flaw;
  onGone: () => void;
}) {
  const change = useFlawChange(job.id);
  const answer = useFlawAnswer(job.id);
  const again = useLookAgain(job.id);
  const remove = useRemoveFlaw(job.id);
  const notify = useNotify();
  const known = { id: flaw.id, version: flaw.version };
  const kinds = Object.fromEntries(car.kinds.map((one) => [one.id, one.words]));
  const error = change.error ?? answer.error ?? again.error ?? remove.error;
  const takeOut = () =>
    remove.write(known, {
      onSuccess: () => {
        onGone();
        notify(`${flaw.words} taken off`, {
          undo: () => remove.write({ id: flaw.id, version: flaw.version + 1, restore: true }),
        });
      },
    });
  const fields = (
    <Ruled title="What was seen">
      <Row>
        <Switch
          label="State"
          value={flaw.state}
          options={WORDS.Wetness}
          onChange={(state) => change.write({ ...known, change: { state } })}
        />
        <SizeField
          key={flaw.id}
          flaw={flaw}
          onSize={(size) => change.write({ ...known, change: { size } })}
        />
        <TextField
          label="How many"
          type="number"
          value={flaw.count}
          onChange={(event) => {
            const count = Number(event.target.value);
            if (count >= 1 && count <= 200) change.write({ ...known, change: { count } });
          }}
          sx={{ width: 96 }}
        />
        <Choice
          label="Kind"
          value={flaw.kind}
          options={kinds}
          onChange={(kind) => change.write({ ...known, change: { kind } })}
          sx={{ minWidth: 170 }}
        />
      </Row>
    </Ruled>
  );
  return (
    <Box data-flaw-panel={flaw.kind}>
      {error && <ErrorNote error={error} />}
      {flaw.closed === "" && (
        <>
          <Decide job={job} flaw={flaw} lead={car.lead} />
          <Ruled title="What to do">
            {flaw.remedy.map((step, i) => (
              <Typography key={step.do} sx={{ fontSize: { xs: 18, md: 17 } }}>
                {i + 1}. <b>{step.do}</b>
                {handled(step)}
              </Typography>
            ))}
            {flaw.note_of_kind && <Typography sx={{ mt: 0.5 }}>{flaw.note_of_kind}</Typography>}
            <Row>
              <Button
                variant="contained"
                disabled={again.pending || flaw.redo_open}
                onClick={() => again.write({ ...known, gone: true }, { onSuccess: onGone })}
                sx={{ minHeight: 48 }}
              >
                Looked again: gone
              </Button>
              <Button
                disabled={again.pending || flaw.redo_open}
                onClick={() => again.write({ ...known, gone: false })}
                sx={{ minHeight: 48 }}
              >
                Still there{flaw.tries > 0 ? ` (${String(flaw.tries)} tries)` : ""}
              </Button>
              <MarkedPhoto job={job} flaw={flaw} />
              <Button variant="text" onClick={takeOut}>
                Put there by mistake
              </Button>
            </Row>
          </Ruled>
          {fields}
          <Causes flaw={flaw} onAnswer={(fact, told) => answer.write({ ...known, fact, told })} />
        </>
      )}
      <Pictures job={job} flaw={flaw} />
    </Box>
  );
}

function handled(step: Flaw["remedy"][number]): string {
  const parts = [
    step.heat && step.heat !== "none" ? `heat: ${step.heat}` : "",
    step.press && step.press !== "none" ? `press: ${step.press}` : "",
    step.tool ? `with ${step.tool}` : "",
  ].filter(Boolean);
  return parts.length ? ` (${parts.join(", ")})` : "";
}

function SizeField({ flaw, onSize }: { flaw: Flaw; onSize: (size: string) => void }) {
  const [text, setText, handedOn] = useFollowing(toInches(flaw.size_mm));
  const send = () => {
    if (text.trim() === "" || text === toInches(flaw.size_mm)) return;
    onSize(text.trim());
    handedOn();
  };
  return (
    <TextField
      label="Size"
      value={text}
      placeholder="1/8"
      onChange={(event) => setText(event.target.value)}
      onBlur={send}
      onKeyDown={(event) => {
        if (event.key === "Enter") send();
      }}
      sx={{ width: 120 }}
    />
  );
}

/** Keep, touch up or redo; what differs from the standard needs its reason, what asks for the owner a name. */
function Decide({ job, flaw, lead }: { job: Job; flaw: Flaw; lead: boolean }) {
  const decide = useDecide(job.id);
  const [because, setBecause] = useState("");
  const [name, setName] = useState("");
  const standard = flaw.standard_says ?? flaw.decision;
  const say = (decision: Decided["decision"]) =>
    decide.write(
      { id: flaw.id, version: flaw.version, decision, because: because.trim(), accepted_by: name.trim() },
      { onSuccess: () => setBecause("") },
    );
  const cost = flaw.redo?.total == null ? "" : `, ${showMoney(flaw.redo.total)}`;
  const may = (decision: "keep" | "touch_up" | "redo") => {
    if (decision === "keep" && flaw.asks_owner) return name.trim() !== "" || because.trim() !== "";
    if (decision === standard) return true;
    return because.trim() !== "" && (decision !== "keep" || lead);
  };
  return (
    <Box sx={{ my: 1.5 }}>
      <Typography data-decision sx={{ fontSize: { xs: 26, md: 24 }, fontWeight: 700, lineHeight: 1.15 }}>
        {decisionWords(flaw)}
      </Typography>
      <Typography sx={{ mb: 1 }}>{flaw.because}</Typography>
      {decide.error && <ErrorNote error={decide.error} />}
      {flaw.redo_open ? (
        <Row>
          <Button component="a" href={`/jobs/${job.id}/cut?w=${flaw.window_id}`} variant="contained">
            To Cut
          </Button>
          <Button component="a" href={`/jobs/${job.id}/bay?w=${flaw.window_id}`}>
            To Bay
          </Button>
          <Button variant="text" onClick={() => say(null)}>
            No redo after all
          </Button>
        </Row>
      ) : (
        <>
          <Row>
            {flaw.asks_owner && (
              <TextField
                label="The owner accepts it"
                value={name}
                onChange={(event) => setName(event.target.value)}
                sx={{ width: 200 }}
              />
            )}
            <TextField
              label="Reason, where the standard says otherwise"
              value={because}
              onChange={(event) => setBecause(event.target.value)}
              sx={{ flexGrow: 1, minWidth: 200 }}
            />
          </Row>
          <Row>
            {(["keep", "touch_up", "redo"] as const).map((one) => (
              <Button
                key={one}
                variant={one === flaw.decision ? "contained" : "outlined"}
                disabled={decide.pending || !may(one)}
                onClick={() => say(one)}
                sx={{ minHeight: 48, mt: 1 }}
              >
                {WORDS.Decision[one]}
                {one === "redo" ? cost : ""}
              </Button>
            ))}
            {flaw.overruled && (
              <Button variant="text" onClick={() => say(null)} sx={{ mt: 1 }}>
                As the standard says
              </Button>
            )}
          </Row>
          {flaw.redo && flaw.redo.minutes > 0 && (
            <Typography color="text.secondary" sx={{ mt: 0.5 }}>
              A redo costs {flaw.redo.film ? `${showMoney(flaw.redo.film)} of film and ` : ""}
              {flaw.redo.minutes.toFixed(0)} min.
              {flaw.redo.twin && ` Its twin, ${flaw.redo.twin}, may have the same.`}
            </Typography>
          )}
        </>
      )}
    </Box>
  );
}

function Pictures({ job, flaw }: { job: Job; flaw: Flaw }) {
  if (flaw.photos.length === 0) return null;
  return (
    <Row>
      {flaw.photos.map((id) => (
        <a key={id} href={`/api/jobs/${job.id}/photos/${id}`} target="_blank" rel="noreferrer">
          <img
            src={`/api/jobs/${job.id}/photos/${id}?small=true`}
            alt={`${flaw.words}, ${flaw.where}`}
            loading="lazy"
            style={{ height: 96, width: 140, objectFit: "cover" }}
          />
        </a>
      ))}
    </Row>
  );
}

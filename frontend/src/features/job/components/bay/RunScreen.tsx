import { Box, Dialog, Typography } from "@mui/material";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Job } from "../../../../api/client";
import { ErrorNote, keepStored, readStored } from "../../../../shared";
import { useNow, type useBay } from "../../bay";
import { cardsOf, isDone, meanwhile, standsAt, type Bay, type Card, type Run } from "../../logic/bay";
import { Big } from "./Big";
import { useKeys, useSwipe } from "./hands";
import { Held, Paused, Stopped, Waiting } from "./Interruptions";
import { ReCut } from "./ReCut";
import { AllDone, Branch } from "./RunEnds";
import { RunTop } from "./RunTop";
import { Scrap } from "./Scrap";
import { StepCard } from "./StepCard";
import { WaterLock } from "./WaterLock";
import { WentWrong, type WhatWentWrong } from "./WentWrong";
import { WhereAll } from "./WhereAll";

const UNDO_MS = 10_000;

type Work = ReturnType<typeof useBay>;

/** The run of one window on the whole screen, a step at a time: for wet hands, from 1.5 m away. */
export function RunScreen({
  job,
  bay,
  work,
  name,
  onOpen,
  onClose,
}: {
  job: Job;
  bay: Bay;
  work: Work;
  name: string;
  onOpen: (name: string) => void;
  onClose: () => void;
}) {
  const run = bay.runs.find((one) => one.name === name);
  if (!run) return null;
  return (
    <Dialog fullScreen open onClose={onClose} slotProps={{ paper: { "aria-label": `Run, ${run.label}` } }}>
      <OpenRun key={name} {...{ job, bay, work, run, onOpen, onClose }} />
    </Dialog>
  );
}

const NOTHING: ReadonlySet<string> = new Set();
const isYes = (value: unknown): value is boolean => typeof value === "boolean";

function OpenRun({
  job,
  bay,
  work,
  run,
  onOpen,
  onClose,
}: {
  job: Job;
  bay: Bay;
  work: Work;
  run: Run;
  onOpen: (name: string) => void;
  onClose: () => void;
}) {
  const unfoldKey = "elumbra.bay.unfolded";
  const [unfolded, setUnfolded] = useState(() => readStored(localStorage, unfoldKey, isYes, bay.learner));
  const cards = useMemo(() => cardsOf(run, unfolded), [run, unfolded]);
  const stands = standsAt(cards);
  const [looking, setLooking] = useState<number | null>(null);
  const [wrong, setWrong] = useState(false);
  const [locked, setLocked] = useState(false);
  const [early, setEarly] = useState("");
  const [left, setLeft] = useState<ReadonlySet<string>>(NOTHING);
  const [last, setLast] = useState<{ id: string; at: number; words: string } | null>(null);
  const screenNow = useNow();
  const now = screenNow + work.skew;
  const at = Math.min(looking ?? stands, cards.length);
  const card: Card | undefined = cards[at];
  const window = job.windows.find((one) => one.id === run.window_id) ?? null;
  const where = useMemo(
    () => ({
      window_id: run.window_id,
      ...(run.strip ? { run: "strip" } : run.window_id === null ? { run: run.name } : {}),
    }),
    [run.window_id, run.strip, run.name],
  );
  const { happens } = work;
  const began = useRef(false);
  useEffect(() => {
    if (!began.current) happens({ kind: "begin", ...where });
    began.current = true;
  }, [happens, where]);

  const waiting =
    looking === null && run.waits_until && Date.parse(run.waits_until) > now && early !== run.next
      ? run.waits_until
      : null;
  const stop = bay.day.stop && !bay.day.go_on && !run.strip && run.window_id !== null ? bay.day.stop : "";
  const held = run.held !== "" && !run.strip ? run.held : "";
  const blocked = Boolean(stop || held || run.refusal);

  const tick = useCallback(
    (level: "card" | "already") => {
      if (!card || isDone(card) || card.steps.every((step) => step.done !== null || left.has(step.key)))
        return;
      const id = happens({
        kind: "tick",
        ...where,
        steps: card.steps.filter((step) => step.done === null && !left.has(step.key)).map((step) => step.key),
        level: level === "already" ? "already" : left.size ? "step" : card.level,
        film: run.film,
      });
      setLast({ id, at: Date.now(), words: card.steps.length > 1 ? card.words : (card.steps[0]?.say ?? "") });
      setLooking(null);
      setLeft(NOTHING);
    },
    [card, happens, where, run.film, left],
  );
  const next = useCallback(() => {
    if (blocked || run.paused) return;
    if (waiting) setEarly(run.next ?? "");
    else if (card && isDone(card)) setLooking(at + 1 >= stands ? null : at + 1);
    else if (at === stands) tick("card");
    else setLooking(null);
  }, [blocked, run.paused, run.next, waiting, card, at, stands, tick]);
  const back = useCallback(() => setLooking(Math.max(0, at - 1)), [at]);

  useKeys({ next, back, close: onClose, quiet: wrong });
  const swipe = useSwipe(next, back);
  const undoable = last !== null && screenNow - last.at < UNDO_MS;
  const undo = () => {
    if (last) happens({ kind: "undo", event: last.id, ...where });
    setLast(null);
    setLooking(null);
  };
  const notDone = () => {
    const event = card?.steps.find((step) => step.done)?.done?.event_id;
    if (event) happens({ kind: "undo", event, ...where });
    setLooking(null);
  };
  const said = ({ what, spoilt, note }: WhatWentWrong) => {
    const id = happens({
      kind: "wrong",
      ...where,
      what,
      spoilt,
      step: card?.steps[0]?.key ?? "",
      ...(note ? { note } : {}),
    });
    setLast({ id, at: Date.now(), words: "what went wrong" });
    setWrong(false);
    setLooking(null);
  };
  const unfold = () => {
    keepStored(localStorage, unfoldKey, !unfolded);
    setUnfolded(!unfolded);
    setLooking(null);
  };
  const other = waiting ? meanwhile(bay, run.name, work.person, now) : null;
  const looked = card && isDone(card);
  return (
    <Box
      {...swipe}
      data-run={run.name}
      data-at={at}
      sx={{
        position: "relative",
        height: "100dvh",
        p: { xs: 1.5, sm: 2 },
        display: "grid",
        gridTemplateRows: "auto auto minmax(0, 1fr) auto",
        gap: { xs: 1, sm: 2 },
        bgcolor: "background.default",
        overflow: "hidden",
      }}
    >
      <RunTop
        {...{ run, card, at, cards, unfolded }}
        unsent={work.unsent}
        onUnfold={unfold}
        onAlready={() => {
          if (!blocked && at === stands) tick("already");
        }}
        onLock={() => setLocked(true)}
        onClose={onClose}
        onPause={() => happens({ kind: run.paused ? "resume" : "pause", ...where })}
      />
      <WhereAll job={job} bay={bay} here={run.name} now={now} onOpen={onOpen} />
      <Box sx={{ overflowY: "auto", position: "relative", minHeight: 0 }}>
        {work.problem && <ErrorNote error={work.problem} />}
        {work.told.map((words) => (
          <Typography key={words} role="status" sx={{ fontWeight: 700, fontSize: { xs: 16, sm: 22 } }}>
            {words}
          </Typography>
        ))}
        <Scrap job={job} window={window} run={run} happens={happens} />
        <ReCut job={job} window={window} run={run} />
        {stop ? (
          <Stopped bay={bay} why={stop} onGoOn={(reason) => happens({ kind: "go_on", reason })} />
        ) : held || run.refusal ? (
          <Held job={job} why={held || run.refusal} run={run} />
        ) : run.paused ? (
          <Paused run={run} onResume={() => happens({ kind: "resume", ...where })} />
        ) : waiting ? (
          <Waiting run={run} until={waiting} now={now} other={other} onOther={onOpen} />
        ) : card ? (
          <>
            <StepCard
              card={card}
              window={window}
              left={left}
              onLeave={(key) => setLeft((before) => toggled(before, key))}
            />
            {run.mishap && card.steps[0]?.again && (
              <Big low onClick={() => happens({ kind: "fine", event: run.mishap, ...where })}>
                This piece is sound: no correction here
              </Big>
            )}
            <Branch card={card} onLayer={(layer) => happens({ kind: "branch", layer, ...where })} />
          </>
        ) : (
          <AllDone bay={bay} run={run} onOpen={onOpen} job={job} />
        )}
      </Box>
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr 1fr", sm: "1fr 1fr 2fr" }, gap: 2 }}>
        {undoable ? (
          <Big onClick={undo} label={`Undo: ${last.words}`}>
            Undo ({Math.ceil(Math.min(UNDO_MS, UNDO_MS - (screenNow - last.at)) / 1000)} s)
          </Big>
        ) : (
          <Big onClick={back} disabled={at === 0}>
            Back
          </Big>
        )}
        <Big onClick={looked ? notDone : () => setWrong(true)} disabled={!card}>
          {looked ? "Not done after all" : "Went wrong"}
        </Big>
        <Box sx={{ gridColumn: { xs: "1 / -1", sm: "auto" }, display: "grid" }}>
          <Big primary onClick={card || waiting ? next : onClose} disabled={blocked || run.paused}>
            {waiting ? "Ready now" : !card ? "Back to the car" : looked ? "Next" : "Done, next"}
          </Big>
        </Box>
      </Box>
      {locked && <WaterLock onUnlock={() => setLocked(false)} />}
      {wrong && (
        <WentWrong
          job={job}
          bay={bay}
          windowId={run.window_id}
          onSaid={said}
          onClose={() => setWrong(false)}
        />
      )}
    </Box>
  );
}

function toggled(keys: ReadonlySet<string>, key: string): ReadonlySet<string> {
  const next = new Set(keys);
  if (!next.delete(key)) next.add(key);
  return next;
}

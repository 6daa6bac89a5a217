import { Box, Button, Slider, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import {
  Answer,
  ErrorNote,
  Pending,
  PractiseButton,
  Row,
  Tick,
  TwoColumns,
  useHeightBelow,
  useNotify,
} from "../../../shared";
import { momentQuery, useShowHow, type Run, type Slip } from "../api";
import { clockOf } from "../logic/grid";
import { Glass } from "./Glass";

const FASTER = 5;
const EVERY_MS = 250;

/** A run looked back at: what it was worth and why, any moment of it, where it was lost. */
export function Looked({ run }: { run: Run }) {
  const last = run.frame?.step ?? 0;
  const [step, setStep] = useState(last);
  const [playing, setPlaying] = useState(false);
  const [heat, setHeat] = useState(false);
  const [inside, setInside] = useState(false);
  const moment = useQuery(momentQuery(run.id, step));
  const show = useShowHow(run.id);
  const navigate = useNavigate();
  const notify = useNotify();
  const height = useHeightBelow(360, 280, 560);
  useEffect(() => {
    if (!playing) return;
    const timer = setInterval(() => {
      setStep((now) => Math.min(last, now + FASTER));
    }, EVERY_MS);
    return () => clearInterval(timer);
  }, [playing, last]);
  const goes = playing && step < last;
  const slips = run.frame?.events ?? [];
  const { score } = run;
  return (
    <>
      <Answer
        tone={score ? (score.passed ? "good" : "bad") : "open"}
        why={score ? score.headline : `Begun by ${run.person}, not ended.`}
      >
        {headline(run)}
      </Answer>
      <TwoColumns shares="1fr 300px">
        <Box sx={{ minWidth: 0 }}>
          {moment.isPending && <Pending what="that moment" />}
          {moment.isError && <ErrorNote error={moment.error} again={() => void moment.refetch()} />}
          {moment.data && (
            <Glass
              run={run}
              frame={moment.data.frame}
              height={height}
              trace={heat ? moment.data.trace : null}
              inside={inside}
              hands={moment.data.hands as (string | number)[][]}
              label={`${run.title} after ${clockOf(step)}`}
            />
          )}
          <Box sx={{ display: "flex", gap: 2, alignItems: "center", px: 1 }}>
            <Button
              onClick={() => {
                if (step >= last) setStep(0);
                setPlaying(!goes);
              }}
              sx={{ minWidth: 96, minHeight: 48 }}
            >
              {goes ? "Stop" : "Replay"}
            </Button>
            <Slider
              value={step}
              max={Math.max(last, 1)}
              color="secondary"
              aria-label="Time of the run"
              getAriaValueText={clockOf}
              marks={slips.map((slip) => ({ value: slip.step }))}
              onChange={(_, value) => {
                setPlaying(false);
                setStep(value);
              }}
            />
            <Typography variant="size" sx={{ minWidth: 90, whiteSpace: "nowrap" }}>
              {clockOf(step)} / {clockOf(last)}
            </Typography>
          </Box>
          <Row gap={0}>
            <Tick label="Where the film has been hot" value={heat} onChange={setHeat} />
            <Tick label="Seen from inside" value={inside} onChange={setInside} />
          </Row>
        </Box>
        <Box>
          {score && <Parts run={run} />}
          <Slips
            slips={slips}
            onPick={(slip) => {
              setPlaying(false);
              setStep(Math.min(last, slip.step + 1));
            }}
          />
          <Row gap={1}>
            {run.by !== "robot" && (
              <Button
                disabled={show.pending}
                onClick={() =>
                  show.write(undefined, {
                    onSuccess: (proof) => void navigate(`/practice/${proof.id}`),
                    onError: (error) => notify(error.message, { bad: true }),
                  })
                }
              >
                {show.pending ? "The robot works …" : "Show me how"}
              </Button>
            )}
            {run.lesson && <PractiseButton on={{ lesson: run.lesson }} words="Once more" />}
            <Button component="a" href={`/api/practice/runs/${run.id}/file`} download>
              File
            </Button>
            <Button component={Link} to="/practice">
              Lessons
            </Button>
          </Row>
        </Box>
      </TwoColumns>
    </>
  );
}

function headline(run: Run): string {
  const who = run.by === "robot" ? "The robot: " : run.by === "file" ? "From a file: " : "";
  if (!run.score) return `${who}${run.title}`;
  return `${who}${run.score.passed ? "passed" : "not passed"}, ${run.score.points} points`.replace(
    /^./,
    (one) => one.toUpperCase(),
  );
}

function Parts({ run }: { run: Run }) {
  return (
    <Box component="ul" aria-label="Score" sx={{ listStyle: "none", p: 0, m: 0, mb: 1.5 }}>
      {run.score?.parts.map((part) => (
        <Box component="li" key={part.name} sx={{ display: "flex", gap: 1.5, mb: 0.5 }}>
          <Typography variant="size" sx={{ minWidth: 64, fontWeight: 700, whiteSpace: "nowrap" }}>
            {part.most ? `${part.points}/${part.most}` : part.points}
          </Typography>
          <Typography variant="body2">{part.words}</Typography>
        </Box>
      ))}
    </Box>
  );
}

function Slips({ slips, onPick }: { slips: readonly Slip[]; onPick: (slip: Slip) => void }) {
  if (slips.length === 0) return null;
  return (
    <Box
      component="section"
      aria-label="Where it was lost"
      sx={{ mb: 1.5, maxHeight: 230, overflowY: "auto" }}
    >
      <Typography variant="h2">Where it was lost</Typography>
      {slips.map((slip, place) => (
        <Button
          key={`${String(slip.step)}${slip.rule}${String(place)}`}
          fullWidth
          onClick={() => onPick(slip)}
          sx={{
            justifyContent: "start",
            textAlign: "left",
            whiteSpace: "normal",
            lineHeight: 1.25,
            minHeight: 48,
            mb: 0.5,
            bgcolor: "background.paper",
          }}
        >
          <span>
            <b>{clockOf(slip.step)}</b> {slip.words}
          </span>
        </Button>
      ))}
    </Box>
  );
}

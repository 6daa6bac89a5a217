import { Box, Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { Answer, ErrorNote, Pending, Tick, TwoColumns, useHeightToFoot } from "../../shared";
import { runQuery, type Frame, type Run } from "./api";
import { Bench } from "./components/Bench";
import { Glass } from "./components/Glass";
import { Legend } from "./components/Legend";
import { Looked } from "./components/Looked";
import { BEGIN, type Settings } from "./logic/hands";
import { usePlaying } from "./usePlaying";

const SAID_STEPS = 60;

/** One run: played while it is one's own and not over, looked back at after. */
export function RunPage() {
  const { runId = "" } = useParams();
  const run = useQuery(runQuery(runId));
  if (run.isPending) return <Pending what="the pane" />;
  if (run.isError) return <ErrorNote error={run.error} again={() => void run.refetch()} />;
  const { frame } = run.data;
  if (run.data.stuck || frame === null)
    return (
      <>
        <Answer tone="open" why={run.data.stuck}>{`${run.data.title}: not played any more`}</Answer>
        <Button component={Link} to="/practice" variant="contained" color="secondary" size="large">
          To the lessons
        </Button>
      </>
    );
  const playing = run.data.mine && run.data.by === "hand" && !frame.over;
  if (!playing) return <Looked key={run.data.id} run={run.data} />;
  return <Play key={run.data.id} run={run.data} first={frame} onOver={() => void run.refetch()} />;
}

function Play({ run, first, onOver }: { run: Run; first: Frame; onOver: () => void }) {
  const [settings, setSettings] = useState<Settings>(BEGIN);
  const playing = usePlaying(run, first, settings);
  const { frame } = playing;
  const [foot, height] = useHeightToFoot<HTMLDivElement>(66, 260, 700);
  const [asked, setAsked] = useState(-1);
  const told = settings.tutor || (asked >= 0 && frame.step - asked < SAID_STEPS);
  const slip = frame.events.at(-1);
  const fresh = slip && frame.step - slip.step < SAID_STEPS ? slip : null;
  return (
    <>
      {/* Room for two lines, always: nothing moves under the fingers when the tutor says more. */}
      <Box sx={{ minHeight: { md: "8.2rem" } }}>
        <Answer tone={fresh ? "bad" : "open"} why={fresh ? fresh.instead : why(run, playing.going, frame)}>
          {fresh ? fresh.words : told ? frame.hint.words : "Your hands, your eyes"}
        </Answer>
      </Box>
      {playing.away && (
        <ErrorNote error="The server does not answer. The run stands still and goes on by itself when it is back." />
      )}
      {playing.problem && <ErrorNote error={playing.problem} />}
      <TwoColumns shares="1fr 250px">
        <Box sx={{ minWidth: 0 }} ref={foot}>
          <Glass
            run={run}
            frame={frame}
            height={height}
            settings={settings}
            hinted={told}
            onTouch={playing.touch}
            label={`${run.title} on the practice glass: arrow keys move the hand, space heats, Enter presses`}
          />
          <Legend frame={frame} film={run.film} />
        </Box>
        <Box>
          <Bench run={run} frame={frame} settings={settings} onSettings={setSettings} act={playing.act} />
          <Box sx={{ display: "flex", gap: 0.75, mt: 1 }}>
            <Button
              sx={{ flexGrow: 1, minHeight: 48 }}
              onClick={() => playing.pause(playing.going)}
              disabled={frame.step === 0 && !playing.going}
            >
              {playing.going ? "Pause" : "Go on"}
            </Button>
            <Button component={Link} to="/practice" sx={{ flexGrow: 1, minHeight: 48 }}>
              Leave
            </Button>
          </Box>
          {frame.over && (
            <Button
              variant="contained"
              color="secondary"
              fullWidth
              sx={{ mt: 1, minHeight: 56 }}
              onClick={onOver}
            >
              What it was worth
            </Button>
          )}
          <Box sx={{ display: "flex", gap: 0.75, mt: 0.75, alignItems: "center" }}>
            <Tick
              label="Tutor speaks"
              value={settings.tutor}
              onChange={(tutor) => setSettings({ ...settings, tutor })}
            />
            {!settings.tutor && (
              <Button onClick={() => setAsked(frame.step)} sx={{ minHeight: 48 }}>
                Hint
              </Button>
            )}
          </Box>
          <Typography variant="body2" color="text.secondary">
            One finger does what is in the hand, a second one presses. Mouse: the right button presses.
          </Typography>
        </Box>
      </TwoColumns>
    </>
  );
}

function why(run: Run, going: boolean, frame: Frame): string {
  if (frame.step === 0) return `${run.title}. ${run.teaches} Time begins with your first stroke.`.trim();
  return going ? run.title : `${run.title}. Time stands still.`;
}

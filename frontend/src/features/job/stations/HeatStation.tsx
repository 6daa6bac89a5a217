import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import type { Job, JobWindow } from "../../../api/client";
import { WORDS } from "../../../api/words";
import {
  Answer,
  Empty,
  ErrorNote,
  FromSurvey,
  Pending,
  PractiseButton,
  Row,
  Ruled,
  Switch,
  TodaysLesson,
} from "../../../shared";
import { BayReading } from "../components/heat/BayReading";
import { CarHeat } from "../components/heat/CarHeat";
import { Cautions, OnOtherFilms, Papers } from "../components/heat/HeatFoot";
import { HeatSide } from "../components/heat/HeatSide";
import { LineButtons } from "../components/heat/LineButtons";
import { PatternCompare } from "../components/heat/PatternCompare";
import { ShrinkMap, type Showing } from "../components/heat/ShrinkMap";
import { WaysOut } from "../components/heat/WaysOut";
import { useShrink, type Shrink, type ShrinkView, type Tried } from "../heat";

/** Height of what stands over the map at the bench. */
const ABOVE = 500;

/** Whether this film can take this glass in one piece, where it is pressed on, and in which order it is heated. */
export function HeatStation({
  job,
  window,
  onSelect,
}: {
  job: Job;
  window: JobWindow | null;
  onSelect: (id: string | null) => void;
}) {
  if (!window) return <CarHeat job={job} onSelect={onSelect} />;
  return <OfWindow key={window.id} job={job} window={window} />;
}

function OfWindow({ job, window }: { job: Job; window: JobWindow }) {
  const [tried, setTried] = useState<Tried>({});
  const found = useShrink(window.id, job.input_hash, tried);
  if (!found.data)
    return found.error ? (
      <ErrorNote error={found.error} again={found.again} />
    ) : (
      <Pending what="what must shrink" />
    );
  const { view } = found.data;
  if (!view)
    return <Stuck job={job} window={window} shrink={found.data} onBest={() => setTried({ best: true })} />;
  return <Seen job={job} window={window} shrink={found.data} view={view} tried={tried} onTry={setTried} />;
}

function Stuck({
  job,
  window,
  shrink,
  onBest,
}: {
  job: Job;
  window: JobWindow;
  shrink: Shrink;
  onBest: () => void;
}) {
  const at = shrink.mend_at;
  return (
    <>
      <Answer tone="bad">{window.label} cannot be worked out</Answer>
      <Empty words={shrink.stuck}>
        {at === "survey" ? (
          <Button component={Link} to={`/jobs/${job.id}/survey?w=${window.id}`}>
            {WORDS.Station.survey}
          </Button>
        ) : (
          <Button onClick={onBest}>At the best line</Button>
        )}
      </Empty>
    </>
  );
}

function Seen({
  job,
  window,
  shrink,
  view,
  tried,
  onTry,
}: {
  job: Job;
  window: JobWindow;
  shrink: Shrink;
  view: ShrinkView;
  tried: Tried;
  onTry: (tried: Tried) => void;
}) {
  const [showing, setShowing] = useState<Showing>("map");
  const [reading, setReading] = useState(false);
  const bad = view.word === "will not shrink" && view.strips.length === 0;
  const inStrips = view.strips.length > 0 && view.part === 0;
  const shown = inStrips ? "strips" : showing;
  const ways = <WaysOut job={job} window={window} view={view} onTaken={() => onTry({})} />;
  return (
    <>
      <Answer tone={bad ? "bad" : view.word === "hard" ? "open" : "good"}>
        {view.sentence.replaceAll(" %", "\u00a0%")}
      </Answer>
      <Typography sx={{ mb: 1 }}>
        {shrink.film || "No film chosen yet: weighed against the usual film"}
        {!view.limit_known && ` (limit ${view.limit_percent} % is our starting value)`}. {shrink.tells}{" "}
        {view.asks}{" "}
        {(view.asks !== "" || !shrink.crowns_read) && !view.flat && (
          <Button size="small" variant="text" component={Link} to={`/jobs/${job.id}/survey?w=${window.id}`}>
            Read it at Survey
          </Button>
        )}
      </Typography>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1.9fr) minmax(0, 1fr)" },
          gap: 3,
        }}
      >
        <Box>
          <ShrinkMap
            view={view}
            label={window.label}
            showing={shown}
            above={ABOVE}
            {...(view.strips.length > 0
              ? {}
              : {
                  onLine: (height_mm: number, slope: number) =>
                    onTry({ height_mm, slope, turned: view.anchor.turned }),
                })}
          />
          <Row>
            {view.strips.length > 0 && (
              <Switch
                label="Which strip"
                value={String(view.part)}
                options={{
                  "0": "All strips",
                  ...Object.fromEntries(view.strips.map((one) => [one.number, `Strip ${one.number}`])),
                }}
                onChange={(part) => onTry({ part: Number(part) })}
              />
            )}
            {!inStrips && (
              <Switch
                label="Shown on the pane"
                value={showing}
                options={{ map: "What must go", order: "Order of heat", pattern: "Pattern" }}
                onChange={setShowing}
              />
            )}
            {view.strips.length === 0 && (
              <LineButtons job={job} window={window} view={view} tried={tried} onTry={onTry} />
            )}
            {!inStrips && view.bites.length > 0 && (
              <Button onClick={() => setReading(true)}>Read beside the car</Button>
            )}
            <PractiseButton on={{ window_id: window.id }} />
            <TodaysLesson window={window} />
          </Row>
          {showing === "pattern" && <PatternCompare view={view} />}
          {!inStrips && view.steps.length > 0 && (
            <Ruled title="In this order">
              {view.steps.map((step, i) => (
                <Typography key={step} sx={{ mt: 0.5 }}>
                  {i + 1}. {step}
                </Typography>
              ))}
            </Ruled>
          )}
          <Cautions cautions={view.cautions} temperature={view.temperature} />
          <Papers window={window} view={view} />
        </Box>
        <Box>
          {bad && ways}
          {!inStrips && <HeatSide view={view} />}
          {!bad && ways}
          <OnOtherFilms view={view} />
          <FromSurvey
            notes={window.follows
              .filter((one) => one.read_by === "heat")
              .map((one) => ({ ...one, label: window.label }))}
          />
          <Ruled title="Why">
            {view.why.map((line) => (
              <Typography key={line} variant="body2" sx={{ mt: 0.5 }}>
                {line}
              </Typography>
            ))}
          </Ruled>
        </Box>
      </Box>
      {reading && <BayReading window={window} view={view} onClose={() => setReading(false)} />}
    </>
  );
}

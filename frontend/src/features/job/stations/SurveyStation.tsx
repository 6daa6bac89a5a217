import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import type { Job, JobWindow } from "../../../api/client";
import { Problem } from "../../../api/unwrap";
import { Locked, Row, Switch, TwoColumns } from "../../../shared";
import { useWindowChange } from "../api";
import { PaneDrawing } from "../components/PaneDrawing";
import { FromShelf } from "../components/survey/FromShelf";
import { GlassFacts } from "../components/survey/GlassFacts";
import { LookOver } from "../components/survey/LookOver";
import { MirrorDoubt } from "../components/survey/MirrorDoubt";
import { SizeDoubt } from "../components/survey/SizeDoubt";
import { ReadingFields, SharedGlass } from "../components/survey/ReadingFields";
import { SurveyAnswer } from "../components/survey/SurveyAnswer";
import { WholeCarSurvey } from "../components/survey/WholeCarSurvey";
import type { ChangeWindow } from "../components/survey/types";
import { answered, keptAsItWas, suspects } from "../logic/survey";
import { beforeOf, type Undo } from "../logic/undo";

type What = "look" | "measure";

interface Props {
  job: Job;
  window: JobWindow | null;
  onSelect: (id: string | null) => void;
}

/** The walkaround: what is found, what is read, what it draws, and whether the readings close. */
export function SurveyStation({ job, window, onSelect }: Props) {
  const [what, setWhat] = useState<What>("measure");
  const walk = () => {
    setWhat("look");
    onSelect(job.windows[0]?.id ?? null);
  };
  if (!window) return <WholeCarSurvey job={job} onSelect={onSelect} onWalk={walk} />;
  return (
    <OnePane key={window.id} job={job} window={window} what={what} onWhat={setWhat} onSelect={onSelect} />
  );
}

interface PaneProps {
  job: Job;
  window: JobWindow;
  what: What;
  onWhat: (what: What) => void;
  onSelect: Props["onSelect"];
}

function OnePane({ job, window, what, onWhat, onSelect }: PaneProps) {
  const writes = useWindowChange(job.id);
  const [lit, setLit] = useState<string | null>(null);
  const refused = writes.refusedWindow === window.id && writes.error instanceof Problem ? writes.error : null;
  const refusals = Object.fromEntries(
    Object.entries(refused?.fields ?? {}).map(([key, words]) => [
      key.replace(/^(readings|findings)\./, ""),
      words,
    ]),
  );
  const [undone, setUndone] = useState<Undo[]>([]);
  const change: ChangeWindow = (body) => {
    const before = beforeOf(window, body);
    if (before) setUndone((all) => [...all, before].slice(-20));
    writes.change(window.id, body);
  };
  const last = undone.at(-1);
  const undo = () => {
    if (!last) return;
    setUndone((all) => all.slice(0, -1));
    writes.change(window.id, last.change);
  };
  return (
    <TwoColumns shares="7fr 5fr">
      <Box sx={{ position: { md: "sticky" }, top: 8, alignSelf: "start" }}>
        <SurveyAnswer window={window} />
        <PaneDrawing window={window} lit={lit} again={suspects(window)} />
        {window.pane.cautions.map((caution) => (
          <Typography key={caution} sx={{ mt: 1 }}>
            {caution}
          </Typography>
        ))}
        <SizeDoubt window={window} change={change} />
        <MirrorDoubt jobId={job.id} window={window} change={change} />
      </Box>
      <div>
        <Row>
          <Switch
            label="Survey of this window"
            value={what}
            options={{
              measure: "Measure",
              look: `Look over ${answered(window)}/${window.findings_asked.length}`,
            }}
            onChange={onWhat}
          />
          <Box sx={{ flexGrow: 1 }} />
          {last && !keptAsItWas(job) && (
            <Button size="small" variant="text" onClick={undo}>
              Undo: {last.words}
            </Button>
          )}
        </Row>
        <Locked why={keptAsItWas(job)}>
          {what === "look" ? (
            <LookOver job={job} window={window} refusals={refusals} change={change} onSelect={onSelect} />
          ) : (
            <>
              {window.same_as_id ? (
                <SharedGlass job={job} window={window} change={change} onSelect={onSelect} />
              ) : (
                <ReadingFields
                  job={job}
                  window={window}
                  refusals={refusals}
                  change={change}
                  lit={lit}
                  onLit={setLit}
                  onSelect={onSelect}
                />
              )}
              {window.same_as_id === null && <FromShelf job={job} window={window} />}
              <GlassFacts job={job} window={window} change={change} />
            </>
          )}
        </Locked>
      </div>
    </TwoColumns>
  );
}

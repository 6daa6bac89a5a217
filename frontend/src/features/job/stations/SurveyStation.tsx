import { Button, Typography } from "@mui/material";
import { useState } from "react";
import type { Job, JobWindow } from "../../../api/client";
import { Problem } from "../../../api/unwrap";
import { TwoColumns } from "../../../shared";
import { useWindowChange } from "../api";
import { PaneDrawing } from "../components/PaneDrawing";
import { GlassFacts } from "../components/survey/GlassFacts";
import { ReadingFields, SharedGlass } from "../components/survey/ReadingFields";
import { Misclosure, SurveyAnswer } from "../components/survey/SurveyAnswer";
import { WholeCarSurvey } from "../components/survey/WholeCarSurvey";
import type { ChangeWindow } from "../components/survey/types";
import { beforeOf, type Undo } from "../logic/undo";

interface Props {
  job: Job;
  window: JobWindow | null;
  onSelect: (id: string | null) => void;
}

/** Measuring: what was read, what it draws, and whether the readings close. */
export function SurveyStation({ job, window, onSelect }: Props) {
  if (!window) return <WholeCarSurvey job={job} onSelect={onSelect} />;
  return <OnePane key={window.id} job={job} window={window} onSelect={onSelect} />;
}

function OnePane({ job, window, onSelect }: { job: Job; window: JobWindow; onSelect: Props["onSelect"] }) {
  const writes = useWindowChange(job.id);
  const [lit, setLit] = useState<string | null>(null);
  const refused = writes.refusedWindow === window.id && writes.error instanceof Problem ? writes.error : null;
  const refusals = Object.fromEntries(
    Object.entries(refused?.fields ?? {}).map(([key, words]) => [key.replace("readings.", ""), words]),
  );
  const [undone, setUndone] = useState<Undo[]>([]);
  const change: ChangeWindow = (body) => {
    const before = beforeOf(window, body.readings);
    if (before) setUndone((all) => [...all, before].slice(-20));
    writes.change(window.id, body);
  };
  const last = undone.at(-1);
  const undo = () => {
    if (!last) return;
    setUndone((all) => all.slice(0, -1));
    writes.change(window.id, { readings: last.readings });
  };
  return (
    <TwoColumns shares="7fr 5fr">
      <div>
        <SurveyAnswer window={window} />
        <PaneDrawing window={window} lit={lit} />
        {window.pane.cautions.map((caution) => (
          <Typography key={caution} sx={{ mt: 1 }}>
            {caution}
          </Typography>
        ))}
        <Misclosure window={window} />
      </div>
      <div>
        {last && (
          <Button size="small" onClick={undo} sx={{ mb: 1 }}>
            Undo: {last.words}
          </Button>
        )}
        {window.same_as_id ? (
          <SharedGlass job={job} window={window} change={change} onSelect={onSelect} />
        ) : (
          <ReadingFields
            job={job}
            window={window}
            refusals={refusals}
            change={change}
            onLit={setLit}
            onSelect={onSelect}
          />
        )}
        <GlassFacts job={job} window={window} change={change} />
      </div>
    </TwoColumns>
  );
}

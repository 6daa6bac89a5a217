import { Box, Button, Typography } from "@mui/material";
import type { Job, JobWindow } from "../../../../api/client";
import { Row, useNotify } from "../../../../shared";
import { minutesOf } from "../../logic/survey";
import { answersBefore } from "../../logic/undo";
import { useOnWindow } from "../../survey";
import { Findings } from "./Findings";
import { GlassFacts } from "./GlassFacts";
import { Photos } from "./Photos";
import type { ChangeWindow } from "./types";

interface Props {
  job: Job;
  window: JobWindow;
  refusals: Readonly<Record<string, string>>;
  change: ChangeWindow;
  onSelect: (id: string | null) => void;
}

/** What this window can raise, and on to the next. What stays open is asked where it matters. */
export function LookOver({ job, window, refusals, change, onSelect }: Props) {
  const { act, pending } = useOnWindow(job.id);
  const notify = useNotify();
  const other = job.windows.find((one) => one.id === window.other_side_id);
  const index = job.windows.findIndex((one) => one.id === window.id);
  const next = job.windows[index + 1];
  const minutes = minutesOf(window.follows);
  const onward = (
    <Button variant="contained" color="secondary" size="large" onClick={() => onSelect(next?.id ?? null)}>
      {next ? `Next: ${next.label}` : "Done: the whole car"}
    </Button>
  );
  return (
    <Box data-look-over>
      <Box sx={{ my: 1.5 }}>
        <Row>
          {onward}
          {other && Object.keys(other.findings).length > 0 && (
            <Button
              disabled={pending}
              size="large"
              onClick={() =>
                act(window.id, { what: "as-other-side", other: other.id }, (job) => {
                  const now = job.windows.find((one) => one.id === window.id);
                  if (!now) return;
                  const before = answersBefore(window, now);
                  notify(`Answered as ${other.label}.`, { undo: () => change(before) });
                })
              }
            >
              As the other side
            </Button>
          )}
          {minutes > 0 && <Typography sx={{ fontWeight: 700 }}>adds about {minutes} min</Typography>}
        </Row>
      </Box>
      <GlassFacts job={job} window={window} change={change} />
      <Findings
        of={window.id}
        asked={window.findings_asked}
        answers={window.findings}
        follows={window.follows}
        suggested={window.suggested}
        refusals={refusals}
        change={(findings) => change({ findings })}
      />
      <Photos job={job} windowId={window.id} />
      <Row>{onward}</Row>
    </Box>
  );
}

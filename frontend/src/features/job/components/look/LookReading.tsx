import { Box, Button, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Job, JobWindow } from "../../../../api/client";
import { ErrorNote, Row, Ruled, showLength, useSettings, VerdictMark } from "../../../../shared";
import { useKeepLook, useRemoveReading, type LookWindow } from "../../look";
import { nextLook } from "../../logic/look";
import { InstalledForm } from "../InstalledForm";
import { ReasonForReading } from "../ReasonPanel";

/** The finished pane read: light against what was foretold, a strip by the ruler; the law goes by the reading. */
export function LookReading({ job, window, look }: { job: Job; window: JobWindow; look: LookWindow }) {
  const remove = useRemoveReading(job.id);
  const newest = look.readings[look.readings.length - 1];
  return (
    <Ruled title={look.strip ? "The strip by the ruler" : "The finished pane by the meter"}>
      {look.word && (
        <Row>
          <VerdictMark word={look.word} />
          <Typography>{look.sentence}</Typography>
        </Row>
      )}
      {look.asks_reason && <ReasonForReading key={`reason-${window.id}`} job={job} window={window} />}
      {!look.word && <Typography>{look.sentence}</Typography>}
      {!look.strip && newest && (
        <Typography sx={{ fontWeight: 700, fontSize: 19 }}>
          Read {newest.percent.toFixed(1)} %, foretold {newest.predicted_percent.toFixed(1)} %
        </Typography>
      )}
      {look.readings.map((one) => (
        <Box key={one.id} sx={{ display: "flex", gap: 1.5, alignItems: "center" }}>
          <Typography>
            {one.on_day}: {one.percent.toFixed(1)} % (foretold {one.predicted_percent.toFixed(1)} ±{" "}
            {one.predicted_pm.toFixed(1)})
          </Typography>
          <Button
            size="small"
            variant="text"
            onClick={() => remove.write({ id: one.id, version: one.version })}
          >
            Misread
          </Button>
        </Box>
      ))}
      {remove.error && <ErrorNote error={remove.error} />}
      {look.strip ? (
        <Rulers job={job} look={look} />
      ) : (
        <InstalledForm key={window.id} job={job} window={window} lotCut={look.lot} />
      )}
    </Ruled>
  );
}

const PLACES = [
  ["left", "Left corner"],
  ["middle", "Middle"],
  ["right", "Right corner"],
] as const;

function Rulers({ job, look }: { job: Job; look: LookWindow }) {
  const keep = useKeepLook(job.id);
  const { unit } = useSettings();
  const [typed, setTyped] = useState<Record<string, string>>(look.rulers);
  const given = Object.fromEntries(Object.entries(typed).filter(([, one]) => one.trim() !== ""));
  return (
    <>
      <Typography>
        From the top of the glass to the strip’s lower edge; the deepest counts
        {look.deepest_mm === null ? "." : `: ${showLength(look.deepest_mm, unit)}.`}
      </Typography>
      <Row>
        {PLACES.map(([key, words]) => (
          <TextField
            key={key}
            label={words}
            value={typed[key] ?? ""}
            onChange={(event) => setTyped({ ...typed, [key]: event.target.value })}
            sx={{ width: 120 }}
          />
        ))}
        <Button
          variant="contained"
          disabled={keep.pending || Object.keys(given).length === 0}
          onClick={() =>
            keep.write({
              windowId: look.window_id,
              body: { when: nextLook(look), clean: false, rulers: given },
            })
          }
        >
          Keep the readings
        </Button>
      </Row>
      {keep.error && <ErrorNote error={keep.error} />}
    </>
  );
}

import { Box, Button, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Job, Schemas } from "../../../../api/client";
import { ErrorNote, Ruled, Switch, Tick } from "../../../../shared";
import type { useStripResult } from "../../bay";
import type { StripWindow } from "../../stations/StripStation";
import { MeterButton } from "../survey/MeterButton";

const LAYER = { both: "both layers at once", face_only: "the face first" } as const;
const GLUE = { no: "no glue left", yes: "some glue stayed" } as const;

/** How it came off, and a fresh reading of the bare glass: the law is asked anew, and a changed word is said loudly. */
export function StripResult({
  job,
  here,
  send,
}: {
  job: Job;
  here: StripWindow;
  send: ReturnType<typeof useStripResult>;
}) {
  const [layer, setLayer] = useState<keyof typeof LAYER>("both");
  const [glue, setGlue] = useState<keyof typeof GLUE>("no");
  const [lifted, setLifted] = useState(false);
  const [text, setText] = useState("");
  const readings = text
    .split(/[\s,;]+/)
    .filter(Boolean)
    .map(Number);
  const wrong = readings.some((one) => Number.isNaN(one) || one < 0 || one > 100);
  const keep = () => {
    const body: Schemas["ResultBody"] = {
      layer,
      glue,
      lines_lifted: lifted,
      readings_percent: readings,
      note: "",
      version: job.windows.find((one) => one.id === here.window_id)?.version ?? here.version,
    };
    send.write({ windowId: here.window_id, body });
  };
  return (
    <Ruled title="It is off: how it came off, and the bare glass">
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap", alignItems: "center" }}>
        <Switch label="Layers" value={layer} options={LAYER} onChange={setLayer} />
        <Switch label="Glue" value={glue} options={GLUE} onChange={setGlue} />
        <Tick label="A line lifted" value={lifted} onChange={setLifted} />
        <TextField
          label="Bare glass reads, %"
          value={text}
          error={wrong}
          helperText={
            wrong ? "Percent, several with a blank between" : "now that it is bare; several may be typed"
          }
          onChange={(event) => setText(event.target.value)}
          slotProps={{ htmlInput: { inputMode: "decimal" } }}
        />
        <MeterButton
          change={({ bare_readings_percent }) =>
            setText((bare_readings_percent ?? []).map((one) => one.toFixed(1)).join(" "))
          }
        />
        <Button variant="contained" disabled={send.pending || wrong} onClick={keep}>
          Keep it
        </Button>
      </Box>
      {send.error && <ErrorNote error={send.error} />}
    </Ruled>
  );
}

/** What a reading of the bare glass changed, as loud as an answer. */
export function LoudWord({ words }: { words: string }) {
  return (
    <Box
      role="alert"
      sx={{ borderLeft: 12, borderColor: "error.main", bgcolor: "background.paper", p: 2, mb: 2 }}
    >
      <Typography sx={{ fontSize: { xs: 22, sm: 32 }, fontWeight: 700, lineHeight: 1.15 }}>
        {words}
      </Typography>
    </Box>
  );
}

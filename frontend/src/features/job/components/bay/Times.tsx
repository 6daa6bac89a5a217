import { Box, Button, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { Ruled } from "../../../../shared";
import type { Happens } from "../../bay";
import type { Bay } from "../../logic/bay";

/** What was recorded by itself on this car; a wrong time is corrected in one touch. */
export function Times({ bay, happens }: { bay: Bay; happens: Happens }) {
  const [shown, setShown] = useState(false);
  if (bay.times.length === 0) return null;
  const total = bay.times.reduce((sum, one) => sum + one.minutes, 0);
  return (
    <Ruled
      title={`Time kept: ${total.toFixed(0)} min`}
      action={
        <Button size="small" variant="text" onClick={() => setShown(!shown)}>
          {shown ? "Hide" : "Correct"}
        </Button>
      }
    >
      {shown &&
        bay.times.map((one) => {
          const window = bay.runs.find((run) => run.window_id === one.window_id && run.window_id !== null);
          return (
            <Box key={one.event_id} sx={{ display: "flex", gap: 1, alignItems: "center", mb: 0.5 }}>
              <Typography sx={{ flexGrow: 1 }}>
                {window?.label ?? "Car"}, {one.words} · {one.person}
              </Typography>
              <TimeField
                key={one.minutes}
                minutes={one.minutes}
                onKeep={(minutes) => happens({ kind: "time", event: one.event_id, minutes })}
              />
            </Box>
          );
        })}
    </Ruled>
  );
}

function TimeField({ minutes, onKeep }: { minutes: number; onKeep: (minutes: number) => void }) {
  const [text, setText] = useState(minutes.toFixed(1));
  const number = Number(text);
  const wrong = text.trim() === "" || Number.isNaN(number) || number < 0 || number > 1440;
  const keep = () => {
    if (!wrong && text !== minutes.toFixed(1)) onKeep(number);
  };
  return (
    <TextField
      label="min"
      value={text}
      error={wrong}
      onChange={(event) => setText(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        if (event.key === "Enter") keep();
      }}
      slotProps={{ htmlInput: { inputMode: "decimal" } }}
      sx={{ width: 96 }}
    />
  );
}

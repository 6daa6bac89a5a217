import { Box, Button, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { Switch } from "../../../shared";
import type { Frame, Run, StrokeRow } from "../api";
import { TOOLS, type Settings, type Tool } from "../logic/hands";

/** What lies on the bench beside the glass: first what prepares it, then what is taken in the hand. */
export function Bench({
  run,
  frame,
  settings,
  onSettings,
  act,
}: {
  run: Run;
  frame: Frame;
  settings: Settings;
  onSettings: (settings: Settings) => void;
  act: (row: StrokeRow) => void;
}) {
  const up = run.lies.some((one) => one.way === "up");
  const next = frame.hint.about;
  if (frame.way === null)
    return (
      <Part title="Make it ready">
        <Do words="Dryer sheet" main={next === "sheet"} on={() => act(["sheet"])} off={frame.sheeted} />
        <Do words="Slip on the glass" main={next === "wet"} on={() => act(["wet"])} off={frame.wet} />
        <Do words="Lay film across the car" main={next === "lay"} on={() => act(["lay", "across"])} />
        {up && <Do words="Lay film up the pane" on={() => act(["lay", "up"])} />}
      </Part>
    );
  return (
    <>
      {frame.h_way === null ? (
        <Part title="Hold it">
          <Do words="Press the H" main={next === "h"} on={() => act(["h", "across"])} />
          {up && <Do words="Press the H, turned" on={() => act(["h", "up"])} />}
        </Part>
      ) : (
        <Part title="In the hand">
          {(Object.keys(TOOLS) as Tool[]).map((tool) => (
            <Do
              key={tool}
              words={TOOLS[tool]}
              pressed={settings.tool === tool}
              on={() =>
                onSettings({
                  ...settings,
                  tool,
                  ...(tool === "card" || tool === "glove" ? { second: tool } : {}),
                })
              }
            />
          ))}
        </Part>
      )}
      <Part title="Gun">
        <Switch
          label="Heat of the gun"
          value={settings.high ? "high" : "low"}
          options={{ low: "Low", high: "High" }}
          onChange={(one) => onSettings({ ...settings, high: one === "high" })}
        />
        <Switch
          label="How near the gun is held"
          value={String(settings.near)}
          options={{ "35": "Far", "60": "Middle", "100": "Near" }}
          onChange={(one) => onSettings({ ...settings, near: Number(one) })}
        />
      </Part>
      <Part title="Then">
        <Do words="Lift" main={next === "clings" || next === "sideways"} on={() => act(["lift"])} />
        <Do words="Trim" main={next === "trim"} on={() => act(["trim"])} off={frame.trimmed} />
        <Do words="Look" main={next === "look"} on={() => act(["look"])} />
      </Part>
    </>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box component="section" aria-label={title} sx={{ mb: 1 }}>
      <Typography variant="body2" color="text.secondary" sx={{ mb: 0.25 }}>
        {title}
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75 }}>{children}</Box>
    </Box>
  );
}

function Do({
  words,
  on,
  main = false,
  off = false,
  pressed,
}: {
  words: string;
  on: () => void;
  main?: boolean;
  off?: boolean;
  pressed?: boolean;
}) {
  return (
    <Button
      onClick={on}
      disabled={off}
      variant={main || pressed ? "contained" : "outlined"}
      color={main ? "secondary" : "primary"}
      {...(pressed === undefined ? {} : { "aria-pressed": pressed })}
      sx={{
        flexGrow: 1,
        minHeight: 48,
        minWidth: 76,
        px: 1,
        bgcolor: main || pressed ? undefined : "background.paper",
      }}
    >
      {words}
    </Button>
  );
}

import { Box, Button, Typography } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import type { Job, JobWindow } from "../../../../api/client";
import { WORDS } from "../../../../api/words";
import { FieldGrid, Row, Ruled, Switch, TapeField } from "../../../../shared";
import { furtherReadings, readingLabel } from "../../logic/windows";
import type { ChangeWindow } from "./types";

interface Props {
  job: Job;
  window: JobWindow;
  refusals: Record<string, string>;
  change: ChangeWindow;
  onLit: (key: string | null) => void;
  onSelect: (id: string | null) => void;
}

/** The readings of a pane, in the order a hand walks round it; Enter goes to the next. */
export function ReadingFields({ job, window, refusals, change, onLit, onSelect }: Props) {
  const fields = useRef(new Map<string, HTMLInputElement>());
  const mode = Object.values(window.readings)[0]?.mode ?? "surface";
  const further = furtherReadings(Object.keys(window.readings));
  const asked = window.pane.fit?.ask_for?.key;
  const onStrip = window.coverage === "strip" ? ["strip_depth", "as1_depth"] : [];
  const wide = [...further, ...(asked && !further.includes(asked) ? [asked] : [])];
  const order = [...window.asked_readings, ...wide, ...onStrip, ...window.refining_readings];
  const [startAt] = useState(window.asked_readings.find((key) => !window.readings[key]));
  useEffect(() => {
    if (startAt !== undefined) fields.current.get(startAt)?.focus();
  }, [startAt]);

  /** The next reading, or the next window that has its own readings, in walkaround order. */
  const next = (key: string) => {
    const following = order.slice(order.indexOf(key) + 1).map((other) => fields.current.get(other));
    const field = following.find((input) => input?.checkVisibility());
    if (field) {
      field.focus();
      return;
    }
    const index = job.windows.findIndex((other) => other.id === window.id);
    const after = job.windows.slice(index + 1).find((other) => other.same_as_id === null);
    if (after) onSelect(after.id);
  };
  const field = (key: string, { optional = false, label = readingLabel(key) } = {}) => (
    <TapeField
      key={`${window.level}-${key}`}
      label={label}
      draftKey={`${window.id}.${key}`}
      saved={window.readings[key]?.typed ?? ""}
      refused={refusals[key]}
      optional={optional}
      inputRef={(input) => {
        if (input) fields.current.set(key, input);
        else fields.current.delete(key);
      }}
      onCommit={(typed) => change({ readings: { [key]: typed === null ? null : { typed, mode } } })}
      onFocus={() => onLit(key)}
      onNext={() => next(key)}
      lit={window.pane.fit?.culprit?.key === key}
    />
  );
  const refining = window.level === "shape" ? "Bows, corner radii, crowns" : "Crowns";
  return (
    <Ruled
      title="Readings"
      action={
        <Switch
          label="Level"
          value={window.level}
          options={WORDS.Level}
          onChange={(level) => change({ level })}
        />
      }
    >
      <FieldGrid>
        {window.asked_readings.map((key) => field(key))}
        {wide.map((key) => (
          <Box key={key} sx={{ gridColumn: "1 / -1" }}>
            {field(key, key === asked ? { label: `Read as well: ${readingLabel(key).toLowerCase()}` } : {})}
          </Box>
        ))}
        {onStrip.map((key) => field(key, { optional: key === "as1_depth" }))}
      </FieldGrid>
      {window.level === "shape" && (
        <Box sx={{ mt: 1.5 }}>
          <Row>
            <Switch
              label="Corners"
              value={window.figure}
              options={WORDS.Figure}
              onChange={(figure) => change({ figure })}
            />
            <Switch
              label="How the tape lay"
              value={mode}
              options={WORDS.TapeMode}
              onChange={(value) => change({ readings: allIn(window, value) })}
            />
          </Row>
        </Box>
      )}
      <Box component="details" sx={{ mt: 1.5 }} open={window.refining_readings.some((key) => refusals[key])}>
        <Box component="summary" sx={{ cursor: "pointer", fontWeight: 600, py: 1 }}>
          {refining}
        </Box>
        <FieldGrid>{window.refining_readings.map((key) => field(key))}</FieldGrid>
      </Box>
    </Ruled>
  );
}

function allIn(window: JobWindow, mode: JobWindow["readings"][string]["mode"]) {
  return Object.fromEntries(
    Object.entries(window.readings).map(([key, { typed }]) => [key, { typed, mode }]),
  );
}

export function SharedGlass({
  job,
  window,
  change,
  onSelect,
}: Pick<Props, "job" | "window" | "change" | "onSelect">) {
  const source = job.windows.find((other) => other.id === window.same_as_id);
  return (
    <Ruled title="Readings">
      <Typography sx={{ my: 1.5 }}>
        Same glass as <b>{source?.label}</b>
        {window.same_as_mirrored ? ", mirrored" : ""}. A new reading there changes this pane too.
      </Typography>
      <Row>
        <Button onClick={() => onSelect(window.same_as_id)}>Go to {source?.label}</Button>
        <Button onClick={() => change({ same_as_id: null, same_as_mirrored: false })}>
          Measure this one by itself
        </Button>
      </Row>
    </Ruled>
  );
}

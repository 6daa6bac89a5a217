import { Box, Button, Typography } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import type { Job, JobWindow } from "../../../../api/client";
import { WORDS } from "../../../../api/words";
import { FieldGrid, Row, Ruled, Several, Switch, TapeField } from "../../../../shared";
import { maySettle, suspects } from "../../logic/survey";
import { furtherReadings, readingLabel } from "../../logic/windows";
import { Closing } from "./Closing";
import { CornersField } from "./CornersField";
import { Crowns } from "./Crowns";
import { CurveClasses } from "./CurveClasses";
import { FACE_READINGS, GatheredCurve } from "./GatheredCurve";
import type { ChangeWindow } from "./types";

interface Props {
  job: Job;
  window: JobWindow;
  refusals: Record<string, string>;
  change: ChangeWindow;
  lit: string | null;
  onLit: (key: string | null) => void;
  onSelect: (id: string | null) => void;
}

/** The readings of a pane, in the order a hand walks round it; Enter goes to the next. */
export function ReadingFields({ job, window, refusals, change, lit, onLit, onSelect }: Props) {
  const fields = useRef(new Map<string, HTMLInputElement>());
  const mode = Object.values(window.readings)[0]?.mode ?? "surface";
  const further = furtherReadings(window);
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
    // Nothing moves on before the readings close, or somebody stands by them.
    if (!maySettle(window)) return;
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
      onCommit={(typed) =>
        change({
          readings: { [key]: typed === null ? null : { typed, mode: window.readings[key]?.mode ?? mode } },
        })
      }
      onFocus={() => onLit(key)}
      onNext={() => next(key)}
      lit={suspects(window).includes(key)}
    />
  );
  const shape = window.level !== "size" && window.figure !== "drawn";
  const crowns = window.asked_readings.filter((key) => key.startsWith("crown_"));
  const straight = window.asked_readings.filter((key) => !key.startsWith("crown_"));
  // Where the crowns stand above with their straightedge they do not stand below as well.
  const refining = window.refining_readings.filter(
    (key) => !FACE_READINGS.has(key) && (crowns.length === 0 || !key.startsWith("crown_")),
  );
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
      <Closing window={window} change={change} />
      {window.figure === "drawn" ? (
        <Typography sx={{ my: 1 }}>
          Its outline came from a drawing or the shelf; no corner is read.
        </Typography>
      ) : (
        <FieldGrid columns={straight.length > 6 ? 3 : 2}>{straight.map((key) => field(key))}</FieldGrid>
      )}
      <FieldGrid>
        {wide.map((key) => (
          <Box key={key} sx={{ gridColumn: "1 / -1" }}>
            {field(key, key === asked ? { label: `Read as well: ${readingLabel(key).toLowerCase()}` } : {})}
          </Box>
        ))}
        {onStrip.map((key) => field(key, { optional: key === "as1_depth" }))}
      </FieldGrid>
      <CurveClasses value={window.curve} disabled={false} onChange={(curve) => change({ curve })} />
      {crowns.length > 0 && (
        <>
          <Crowns window={window} field={field} change={change} lit={lit} />
          <GatheredCurve window={window} field={field} refused={(key) => Boolean(refusals[key])} />
        </>
      )}
      {window.level === "curve" && window.curve === "flat" && (
        <Typography sx={{ my: 1 }}>
          Called flat: no crowns to read. A flat door is shrunk by a snap.
        </Typography>
      )}
      {shape && (
        <Box sx={{ mt: 1.5 }}>
          <Row>
            <CornersField window={window} change={change} />
            <Switch
              label="How the tape lay"
              value={mode}
              options={WORDS.TapeMode}
              onChange={(value) => change({ readings: allIn(window, value) })}
            />
            {window.curve !== "flat" && (
              <Box sx={{ display: "grid", minWidth: 230 }}>
                <Straight window={window} change={change} />
              </Box>
            )}
          </Row>
        </Box>
      )}
      {refining.length > 0 && (
        <Box component="details" sx={{ mt: 1.5 }} open={refining.some((key) => refusals[key])}>
          <Box component="summary" sx={{ cursor: "pointer", fontWeight: 600, py: 1 }}>
            {shape ? "Bows, corner radii and more" : "Crowns"}
          </Box>
          <FieldGrid>{refining.map((key) => field(key))}</FieldGrid>
        </Box>
      )}
    </Ruled>
  );
}

/** On curved glass the two differ, so each reading may be told apart: these were straight from point to point. */
function Straight({ window, change }: { window: JobWindow; change: ChangeWindow }) {
  const read = Object.entries(window.readings).filter(([key]) => LAID.test(key));
  if (read.length === 0) return null;
  return (
    <Several
      label="Straight from point to point"
      value={read.filter(([, one]) => one.mode === "chord").map(([key]) => key)}
      options={Object.fromEntries(read.map(([key]) => [key, readingLabel(key)]))}
      none="none of them"
      onChange={(keys) =>
        change({
          readings: Object.fromEntries(
            read.map(([key, { typed }]) => [key, { typed, mode: keys.includes(key) ? "chord" : "surface" }]),
          ),
        })
      }
    />
  );
}

/** Readings for which it matters how the tape lay. */
const LAID = /^(?!bow_|radius_|more_|less_|crown_|widest_|strip_|as1_|housing_)/;

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

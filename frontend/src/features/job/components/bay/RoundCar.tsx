import { Box, Button, TextField, Typography } from "@mui/material";
import { useRef, useState } from "react";
import type { Job } from "../../../../api/client";
import { useNow, type useBay } from "../../bay";
import { moved, type Bay, type Run } from "../../logic/bay";
import { standsWords } from "./WhereAll";

type Work = ReturnType<typeof useBay>;

/** The order round the car with its reasons; dragged, or moved by its buttons. */
export function RoundCar({
  job,
  bay,
  work,
  onOpen,
  onSelect,
}: {
  job: Job;
  bay: Bay;
  work: Work;
  onOpen: (name: string) => void;
  onSelect: (id: string | null) => void;
}) {
  const now = useNow() + work.skew;
  const order = bay.order.map((one) => one.window_id);
  const dragged = useRef<number | null>(null);
  const [over, setOver] = useState<number | null>(null);
  const arrange = (windows: string[]) => work.happens({ kind: "order", windows });
  const byName = new Map(bay.runs.map((run) => [run.name, run]));
  const before = bay.runs.filter((run) => run.name === "start" || run.strip);
  const end = byName.get("end");
  const own = order.join() !== bay.proposed.join();
  return (
    <Box component="ol" aria-label="Order round the car" sx={{ listStyle: "none", m: 0, p: 0 }}>
      {before.map((run) => (
        <Line key={run.name} {...{ run, now, work, onOpen }} why="" />
      ))}
      {bay.order.map((place, i) => {
        const run = byName.get(place.window_id);
        if (!run) return null;
        return (
          <Box
            key={place.window_id}
            draggable
            onDragStart={() => {
              dragged.current = i;
            }}
            onDragOver={(event: React.DragEvent) => {
              event.preventDefault();
              setOver(i);
            }}
            onDrop={() => {
              if (dragged.current !== null && dragged.current !== i)
                arrange(moved(order, dragged.current, i));
              dragged.current = null;
              setOver(null);
            }}
            onDragEnd={() => setOver(null)}
            sx={{ ...(over === i ? { borderTop: 3, borderColor: "secondary.main" } : {}) }}
          >
            <Line
              {...{ run, now, work, onOpen }}
              why={place.why}
              onSelect={() => onSelect(place.window_id)}
              up={i > 0 ? () => arrange(moved(order, i, i - 1)) : undefined}
              down={i < order.length - 1 ? () => arrange(moved(order, i, i + 1)) : undefined}
            />
          </Box>
        );
      })}
      {end && order.length > 0 && (
        <Line
          {...{ run: end, now, work, onOpen }}
          why=""
          shut={bay.hatch_held ? "after the last window" : ""}
        />
      )}
      {own && (
        <Button size="small" variant="text" onClick={() => arrange([...bay.proposed])}>
          As proposed again
        </Button>
      )}
      <TakeSide job={job} bay={bay} work={work} />
      {bay.hatch_held && bay.lead && <HatchEarly work={work} />}
      {bay.hatch_reason && <Typography>Hatch may be closed early: {bay.hatch_reason}</Typography>}
    </Box>
  );
}

function Line({
  run,
  now,
  work,
  why,
  shut,
  up,
  down,
  onOpen,
  onSelect,
}: {
  run: Run;
  now: number;
  work: Work;
  why: string;
  shut?: string;
  up?: (() => void) | undefined;
  down?: (() => void) | undefined;
  onOpen: (name: string) => void;
  onSelect?: () => void;
}) {
  const mine = run.taken_by === work.person && run.taken_by !== "";
  const label = run.strip ? `${run.label}, old film` : run.label;
  return (
    <Box
      component="li"
      data-line={run.name}
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "1fr auto", sm: "minmax(0, 1.1fr) minmax(0, 1.5fr) auto" },
        columnGap: 2,
        alignItems: "center",
        borderBottom: 1,
        borderColor: "divider",
        py: 0.5,
      }}
    >
      <Typography sx={{ fontWeight: 700 }} onClick={onSelect}>
        {label}
        <Box component="span" sx={{ display: "block", fontWeight: 500 }}>
          {shut || standsWords(run, now)}
          {run.done || shut ? "" : ` · ${run.minutes_left.toFixed(0)} min`}
          {run.taken_by && ` · ${run.taken_by}`}
        </Box>
      </Typography>
      <Typography
        variant="body2"
        color={run.held || run.refusal ? "error.main" : "text.secondary"}
        sx={{ display: { xs: "none", sm: "block" } }}
      >
        {run.held || run.refusal || why}
      </Typography>
      <Box sx={{ display: "flex", gap: 0.5 }}>
        {up !== undefined || down !== undefined ? (
          <>
            <Button
              size="small"
              aria-label={`${label} earlier`}
              disabled={!up}
              onClick={up}
              sx={{ minWidth: 40 }}
            >
              ↑
            </Button>
            <Button
              size="small"
              aria-label={`${label} later`}
              disabled={!down}
              onClick={down}
              sx={{ minWidth: 40 }}
            >
              ↓
            </Button>
          </>
        ) : null}
        {run.window_id !== null && !run.done && (
          <Button
            size="small"
            onClick={() =>
              work.happens({ kind: "take", window_id: run.window_id, ...(run.strip ? { run: "strip" } : {}) })
            }
            disabled={mine}
            aria-label={`Take ${label}`}
          >
            {mine ? "Mine" : "Take"}
          </Button>
        )}
        {run.steps.length > 0 && (
          <Button
            variant={run.begun && !run.done ? "contained" : "outlined"}
            onClick={() => onOpen(run.name)}
          >
            {run.done ? "Look" : run.begun ? "Go on" : "Begin"}
          </Button>
        )}
      </Box>
    </Box>
  );
}

const SIDES = { driver: "driver’s side", passenger: "passenger’s side" } as const;

/** Two people on one car: each takes a side. */
function TakeSide({ job, bay, work }: { job: Job; bay: Bay; work: Work }) {
  const open = (side: keyof typeof SIDES) =>
    bay.order.filter(({ window_id }) => {
      const window = job.windows.find((one) => one.id === window_id);
      const run = bay.runs.find((one) => one.name === window_id);
      return window?.side === side && run !== undefined && !run.done && run.taken_by !== work.person;
    });
  return (
    <Box sx={{ display: "flex", gap: 1, mt: 1, flexWrap: "wrap" }}>
      {(Object.keys(SIDES) as (keyof typeof SIDES)[])
        .filter((side) => open(side).length > 0)
        .map((side) => (
          <Button
            key={side}
            size="small"
            onClick={() => {
              for (const { window_id } of open(side)) work.happens({ kind: "take", window_id });
            }}
          >
            Take the {SIDES[side]}
          </Button>
        ))}
    </Box>
  );
}

/** The hatch stays up until the last window is closed; a lead may say otherwise. */
function HatchEarly({ work }: { work: Work }) {
  const [reason, setReason] = useState("");
  return (
    <Box sx={{ display: "flex", gap: 1, mt: 1, flexWrap: "wrap" }}>
      <TextField
        label="Why the hatch may be closed early"
        value={reason}
        onChange={(event) => setReason(event.target.value)}
        slotProps={{ htmlInput: { maxLength: 300 } }}
        sx={{ flexGrow: 1 }}
      />
      <Button
        disabled={reason.trim() === ""}
        onClick={() => work.happens({ kind: "hatch_early", reason: reason.trim() })}
      >
        Let it be closed
      </Button>
    </Box>
  );
}

import { Box, Button, Typography } from "@mui/material";
import { Choice } from "../../../shared";
import type { Decisions, Sheet } from "../api";
import { clockOf, lettingGo, locksFor, type Block } from "../logic/blocks";

const STEPS = [-30, -5, 5, 30] as const;

/** A block: its tasks, and the ways to move it without a mouse. */
export function BlockPanel({
  sheet,
  block,
  decide,
  pending,
}: {
  sheet: Sheet;
  block: Block;
  decide: (said: Decisions) => void;
  pending: boolean;
}) {
  const here = Object.fromEntries(sheet.people.map((hand) => [hand.id, hand.name]));
  // As it stands now: it may have moved since it was picked.
  const byHand = block.tasks.map((task) => task.id).filter((id) => sheet.decided.by_hand.includes(id));
  const letGo = byHand.length > 0 && (
    <Button disabled={pending} onClick={() => decide({ locks: lettingGo(byHand), free_all: false })}>
      Let it go
    </Button>
  );
  const first = sheet.tasks.find((task) => task.id === block.tasks[0]?.id);
  if (!first)
    return (
      <Box sx={{ mb: 1.5 }}>
        <Typography>
          {byHand.length > 0 ? "It was put by hand and is not planned." : "It is done or no longer planned."}
        </Typography>
        {letGo}
      </Box>
    );
  const now: Block = {
    ...block,
    worker: first.worker,
    start: first.start,
    tasks: block.tasks.flatMap((task) => sheet.tasks.filter((one) => one.id === task.id)),
    locked: byHand.length > 0,
  };
  const put = (worker: string, start: number) =>
    decide({ locks: locksFor(now, worker, start), free_all: false });
  return (
    <Box sx={{ mb: 1.5 }}>
      {now.tasks.map((task) => (
        <Typography key={task.id}>
          <b>{clockOf(task.start, sheet)}</b> {task.label}, {task.words}
          {task.wait_until > task.end ? `, dries until ${clockOf(task.wait_until, sheet)}` : ""}
          {task.locked ? " · put by hand" : ""}
        </Typography>
      ))}
      <Box sx={{ display: "flex", gap: 1, mt: 1, flexWrap: "wrap", alignItems: "center" }}>
        <Choice
          label="Done by"
          value={now.worker}
          options={here}
          disabled={pending}
          onChange={(worker) => put(worker, now.start)}
          sx={{ minWidth: 170 }}
        />
        {letGo}
      </Box>
      <Box role="group" aria-label="Move in time" sx={{ display: "flex", gap: 1, mt: 1 }}>
        {STEPS.map((step) => (
          <Button
            key={step}
            disabled={pending}
            onClick={() => put(now.worker, now.start + step)}
            sx={{ minWidth: 56 }}
          >
            {step > 0 ? `+${step}` : `−${-step}`} min
          </Button>
        ))}
      </Box>
    </Box>
  );
}

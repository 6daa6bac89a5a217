import { Box, useTheme } from "@mui/material";
import { useMemo, useRef, useState } from "react";
import { useRoom } from "../../../shared";
import type { Sheet } from "../api";
import type { Picked } from "../DayPage";
import { blocksOf, clockOf, tintOf, type Block } from "../logic/blocks";
import { BlockBar } from "./BlockBar";

const NAME = 92;
const AXIS = 22;
const BAY = 34;
const HAND = 46;
const STEP = 5;

interface Held {
  block: Block;
  grabbed: number;
  x: number;
  y: number;
}

/** Bays and people across the day, drawn to time; a block is moved by dragging it, or by its panel. */
export function Drawing({
  sheet,
  picked,
  onPick,
  onDrop,
}: {
  sheet: Sheet;
  picked: Picked | null;
  onPick: (picked: Picked) => void;
  onDrop: (block: Block, worker: string, start: number) => void;
}) {
  const theme = useTheme();
  const [room, width] = useRoom<HTMLDivElement>(880);
  const drawing = useRef<SVGSVGElement | null>(null);
  const [held, setHeld] = useState<Held | null>(null);
  const tint = useMemo(() => tintOf(sheet.cars), [sheet.cars]);
  const lines = useMemo(
    () => sheet.people.map((hand) => ({ hand, blocks: blocksOf(sheet.tasks, hand.id) })),
    [sheet.people, sheet.tasks],
  );
  const span = Math.max(60, sheet.ends - sheet.begins);
  const scale = Math.max(200, width - NAME - 6) / span;
  const x = (minute: number) => NAME + (minute - sheet.begins) * scale;
  const bayTop = AXIS + (sheet.sun.length ? 12 : 0);
  const handTop = bayTop + sheet.bays.length * BAY + 8;
  const height = handTop + lines.length * HAND + 4;
  const { ink, soft, rule, sun, sheet: paper } = theme.inks;
  const numbers = new Map(sheet.cars.map((car) => [car.job_id, car.number]));

  const at = (event: React.PointerEvent) => {
    const box = drawing.current?.getBoundingClientRect();
    return { x: event.clientX - (box?.left ?? 0), y: event.clientY - (box?.top ?? 0) };
  };
  const target = held && {
    line: Math.min(lines.length - 1, Math.max(0, Math.floor((held.y - handTop) / HAND))),
    start: Math.round((sheet.begins + (held.x - held.grabbed - NAME) / scale) / STEP) * STEP,
  };

  return (
    <Box ref={room} sx={{ overflowX: "auto" }}>
      <svg
        ref={drawing}
        width={width}
        height={height}
        role="group"
        aria-label={`The day from ${clockOf(sheet.begins, sheet)} to ${clockOf(sheet.ends, sheet)}`}
        style={{ display: "block", touchAction: held ? "none" : "pan-y", userSelect: "none" }}
        onPointerMove={(event) => {
          if (held) setHeld({ ...held, ...at(event) });
        }}
        onPointerUp={() => {
          const hand = target && lines[target.line]?.hand;
          if (held && target && hand && (hand.id !== held.block.worker || target.start !== held.block.start))
            onDrop(held.block, hand.id, target.start);
          setHeld(null);
        }}
        onPointerLeave={() => setHeld(null)}
      >
        {sheet.marks.map((mark) => (
          <g key={mark.minute}>
            <line
              x1={x(mark.minute)}
              x2={x(mark.minute)}
              y1={AXIS - 4}
              y2={height}
              stroke={rule}
              strokeWidth={0.75}
            />
            <text
              x={x(mark.minute) + 3}
              y={AXIS - 7}
              fontSize={12.5}
              fill={soft}
              fontFamily='"B612 Mono", monospace'
            >
              {mark.words}
            </text>
          </g>
        ))}
        {sheet.sun.map((one) => (
          <g key={one.start}>
            <rect
              x={x(Math.max(one.start, sheet.begins))}
              width={Math.max(0, (Math.min(one.end, sheet.ends) - Math.max(one.start, sheet.begins)) * scale)}
              y={AXIS}
              height={7}
              fill={sun}
              opacity={0.55}
            />
            <title>Sun in the yard</title>
          </g>
        ))}
        {sheet.bays.map((bay, i) => {
          const top = bayTop + i * BAY;
          return (
            <g key={bay.name}>
              <text x={0} y={top + 22} fontSize={14} fontWeight={700} fill={ink}>
                {bay.name}
              </text>
              <line
                x1={0}
                x2={width}
                y1={top + BAY - 1}
                y2={top + BAY - 1}
                stroke={rule}
                strokeWidth={0.75}
              />
              {sheet.cars
                .filter((car) => car.in_bay && car.bay === bay.name && car.in_bay.start < sheet.ends)
                .map((car) => (
                  <BlockBar
                    key={car.job_id}
                    x={x(Math.max(car.in_bay?.start ?? 0, sheet.begins))}
                    y={top + 3}
                    width={
                      (Math.min(car.in_bay?.end ?? 0, sheet.ends) -
                        Math.max(car.in_bay?.start ?? 0, sheet.begins)) *
                      scale
                    }
                    height={BAY - 8}
                    tint={tint(car.job_id)}
                    words={`${car.number} ${car.title}`}
                    label={`${car.number} ${car.title} in ${bay.name}`}
                    chosen={picked?.jobId === car.job_id}
                    late={car.late > 0}
                    onPick={() => onPick({ jobId: car.job_id, block: null })}
                  />
                ))}
            </g>
          );
        })}
        {lines.map(({ hand, blocks }, i) => {
          const top = handTop + i * HAND;
          return (
            <g key={hand.id}>
              <text x={0} y={top + 19} fontSize={14} fontWeight={700} fill={ink}>
                {hand.name.split(" ")[0]}
              </text>
              <text x={0} y={top + 35} fontSize={11.5} fill={soft}>
                {hand.away ? hand.away.slice(0, 16) : `${Math.round(hand.work / 6) / 10} h`}
              </text>
              {hand.spans.map((one) => (
                <rect
                  key={one.start}
                  x={x(one.start)}
                  y={top + 2}
                  width={(one.end - one.start) * scale}
                  height={HAND - 8}
                  fill={paper}
                  stroke={rule}
                  strokeWidth={0.5}
                />
              ))}
              {sheet.done
                .filter((one) => one.worker === hand.id)
                .map((one) => (
                  <rect
                    key={`${one.job_id}:${one.start}:${one.end}:${one.words}`}
                    x={x(one.start)}
                    y={top + HAND - 14}
                    width={Math.max(1.5, (one.end - one.start) * scale)}
                    height={7}
                    fill={soft}
                  >
                    <title>{`Done: ${one.words}`}</title>
                  </rect>
                ))}
              {blocks
                .filter((block) => block.start < sheet.ends)
                .map((block) => (
                  <BlockBar
                    key={block.key}
                    x={x(block.start)}
                    y={top + 2}
                    width={(block.end - block.start) * scale}
                    height={HAND - 8}
                    tint={tint(block.jobId)}
                    words={String(numbers.get(block.jobId) ?? "all")}
                    label={`${hand.name}, ${clockOf(block.start, sheet)} to ${clockOf(block.end, sheet)}: ${numbers.get(block.jobId) ?? "several cars"}, ${block.tasks.map((task) => `${task.label} ${task.words}`).join("; ")}`}
                    chosen={
                      picked?.block?.key === block.key ||
                      (picked?.block === null && picked.jobId === block.jobId)
                    }
                    locked={block.locked}
                    parts={block.tasks.slice(1).map((task) => (task.start - block.start) * scale)}
                    tail={(Math.min(block.until, sheet.ends) - block.end) * scale}
                    faded={held?.block.key === block.key}
                    onPick={() => onPick({ jobId: block.jobId, block })}
                    onGrab={(event) => {
                      const point = at(event);
                      setHeld({ block, grabbed: point.x - x(block.start), ...point });
                    }}
                  />
                ))}
              <line
                x1={0}
                x2={width}
                y1={top + HAND - 2}
                y2={top + HAND - 2}
                stroke={rule}
                strokeWidth={0.75}
              />
            </g>
          );
        })}
        {held && target && (
          <g pointerEvents="none">
            <rect
              x={x(target.start)}
              y={handTop + target.line * HAND + 2}
              width={(held.block.end - held.block.start) * scale}
              height={HAND - 8}
              fill="none"
              stroke={ink}
              strokeWidth={2.5}
              strokeDasharray="5 3"
            />
            <text
              x={x(target.start) + 4}
              y={handTop + target.line * HAND - 1}
              fontSize={13}
              fontWeight={700}
              fill={ink}
            >
              {clockOf(target.start, sheet)}
            </text>
          </g>
        )}
        {sheet.now !== null && sheet.now >= sheet.begins && sheet.now <= sheet.ends && (
          <g>
            <line
              x1={x(sheet.now)}
              x2={x(sheet.now)}
              y1={AXIS - 4}
              y2={height}
              stroke={theme.palette.error.main}
              strokeWidth={2}
            />
            <text
              x={x(sheet.now) + 4}
              y={height - 4}
              fontSize={12}
              fontWeight={700}
              fill={theme.palette.error.main}
            >
              now
            </text>
          </g>
        )}
      </svg>
    </Box>
  );
}

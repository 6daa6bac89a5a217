import { useTheme } from "@mui/material";

/** Tints that tell cars apart; the number in the block says which it is. */
const LIGHT = ["#f0d9a0", "#d3cae2", "#c6dccd", "#efc7b7", "#c6d8e4", "#e4d8bd", "#d9e0b4", "#e6c5d5"];
const DARK = ["#5c4a16", "#453a61", "#2f4f3b", "#66382a", "#2c4a60", "#54482f", "#4b5323", "#5b3349"];

/** A block on a line: which car, how long, what dries after it, whether it was put by hand. */
export function BlockBar({
  x,
  y,
  width,
  height,
  tint,
  words,
  label,
  chosen,
  late = false,
  locked = false,
  parts = [],
  tail = 0,
  faded = false,
  onPick,
  onGrab,
}: {
  x: number;
  y: number;
  width: number;
  height: number;
  tint: number;
  words: string;
  label: string;
  chosen: boolean;
  late?: boolean;
  locked?: boolean;
  parts?: readonly number[];
  tail?: number;
  faded?: boolean;
  onPick: () => void;
  onGrab?: (event: React.PointerEvent) => void;
}) {
  const theme = useTheme();
  const { ink } = theme.inks;
  const tints = theme.palette.mode === "dark" ? DARK : LIGHT;
  const wide = Math.max(2, width);
  const fits = wide > words.length * 7.4 + 6;
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={`${label}${locked ? ", put by hand" : ""}${late ? ", late" : ""}`}
      aria-pressed={chosen}
      onClick={onPick}
      onKeyDown={(event) => {
        if (event.key === "Enter" || event.key === " ") {
          event.preventDefault();
          onPick();
        }
      }}
      onPointerDown={(event) => {
        if (onGrab && event.button === 0) {
          onPick();
          onGrab(event);
        }
      }}
      style={{ cursor: onGrab ? "grab" : "pointer", outlineOffset: 1 }}
      opacity={faded ? 0.4 : 1}
    >
      <title>{label}</title>
      {tail > 0 && (
        <line
          x1={x + wide}
          x2={x + wide + tail}
          y1={y + height - 4}
          y2={y + height - 4}
          stroke={ink}
          strokeDasharray="2 3"
        />
      )}
      <rect
        x={x}
        y={y}
        width={wide}
        height={height}
        fill={tints[tint % tints.length]}
        stroke={late ? theme.palette.error.main : ink}
        strokeWidth={chosen ? 3 : late ? 2.5 : 0.9}
      />
      {parts.map((part) => (
        <line
          key={part}
          x1={x + part}
          x2={x + part}
          y1={y + height - 8}
          y2={y + height}
          stroke={ink}
          strokeWidth={0.7}
        />
      ))}
      {fits && (
        <text
          x={x + 4}
          y={y + Math.min(18, height / 2 + 5)}
          fontSize={13}
          fontWeight={700}
          fill={ink}
          pointerEvents="none"
        >
          {words}
        </text>
      )}
      {locked && wide > 12 && (
        <path
          d={`M${x + wide - 9} ${y + 9} v-2 a2.5 2.5 0 0 1 5 0 v2 m-6 0 h7 v5 h-7 z`}
          fill={ink}
          stroke={ink}
          strokeWidth={0.8}
          pointerEvents="none"
        />
      )}
    </g>
  );
}

import type { LengthUnit } from "../logic/format";

/** Height that the ruler takes under a drawing. */
export const RULER = 34;
const MM_PER_INCH = 25.4;

/** Along the roll from its free end: what the installer's own ruler reads. */
export function Ruler({
  length,
  scale,
  top,
  unit,
  ink,
}: {
  length: number;
  scale: number;
  top: number;
  unit: LengthUnit;
  ink: string;
}) {
  const step = unit === "in" ? MM_PER_INCH : 25;
  const every = scale * step < 4 ? 4 : 1;
  const labelled = unit === "in" ? 10 : 20;
  const count = Math.floor(length / step);
  return (
    <g aria-hidden="true">
      {Array.from({ length: count + 1 }, (_, i) => i)
        .filter((i) => i % every === 0 || i % labelled === 0)
        .map((i) => {
          const x = i * step * scale;
          const long = i % labelled === 0;
          return (
            <g key={i}>
              <line
                x1={x}
                y1={top}
                x2={x}
                y2={top + (long ? 12 : 6)}
                stroke={ink}
                strokeWidth={long ? 1.5 : 0.75}
              />
              {long && (
                <text
                  x={Math.min(x, length * scale - 12)}
                  y={top + 28}
                  textAnchor={i === 0 ? "start" : "middle"}
                  fontSize="14"
                  fill={ink}
                >
                  {unit === "in" ? i : i * step}
                </text>
              )}
            </g>
          );
        })}
    </g>
  );
}

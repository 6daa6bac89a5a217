import type { SVGProps } from "react";

export type Ring = readonly (readonly number[])[];

/** Points of a ring for SVG, y turned down, with its foot at `base`. */
export function ringPoints(ring: Ring, scale: number, left: number, base: number): string {
  return ring
    .map(([x = 0, y = 0]) => `${(left + x * scale).toFixed(2)},${(base - y * scale).toFixed(2)}`)
    .join(" ");
}

/** A pane to scale, dashed where only its size is known. */
export function PaneShape({
  ring,
  measured,
  scale,
  left,
  base,
  ...rest
}: {
  ring: Ring;
  measured: boolean;
  scale: number;
  left: number;
  base: number;
} & SVGProps<SVGPolygonElement>) {
  return (
    <polygon
      points={ringPoints(ring, scale, left, base)}
      strokeDasharray={measured ? undefined : "6 4"}
      strokeLinejoin="round"
      {...rest}
    />
  );
}

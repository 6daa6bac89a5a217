import { Box } from "@mui/material";
import { PaneShape, type Ring } from "./PaneShape";

const HEIGHT = 44;
const GAP = 6;

/** A car's panes in a row to one scale, as many as there is room for. */
export function PaneRow({ panes }: { panes: readonly { id: string; label: string; ring: Ring }[] }) {
  const drawn = panes.filter((pane) => pane.ring.length > 2);
  const sizes = drawn.map(({ ring }) => ({
    wide: Math.max(...ring.map(([x = 0]) => x)),
    high: Math.max(...ring.map(([, y = 0]) => y)),
  }));
  const scale = HEIGHT / Math.max(...sizes.map((one) => one.high), 1);
  const lefts = sizes.reduce<number[]>(
    (all, one) => [...all, (all.at(-1) ?? 0) + one.wide * scale + GAP],
    [0],
  );
  const width = Math.max(lefts.at(-1) ?? 0, 1);
  return (
    <Box
      component="svg"
      viewBox={`0 0 ${width} ${HEIGHT + 2}`}
      role="img"
      aria-label={panes.map((pane) => pane.label).join(", ")}
      sx={{ width: "100%", maxWidth: width, maxHeight: HEIGHT + 2, display: "block", color: "text.primary" }}
    >
      {drawn.map((pane, i) => (
        <PaneShape
          key={pane.id}
          ring={pane.ring}
          measured
          scale={scale}
          left={lefts[i] ?? 0}
          base={HEIGHT + 1}
          fill="currentColor"
          fillOpacity={0.12}
          stroke="currentColor"
          strokeWidth={1.3}
        />
      ))}
    </Box>
  );
}

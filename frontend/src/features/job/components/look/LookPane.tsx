import { Box, useTheme } from "@mui/material";
import { useRef } from "react";
import type { JobWindow } from "../../../../api/client";
import { ringPoints, textIn, useRoom } from "../../../../shared";
import type { Flaw, LookWindow } from "../../look";
import { drawnAt, touchedAt, type Side } from "../../logic/look";
import { FlawMark } from "./marks";

const WIDTH = 720;
const HEIGHT = 340;
const MARGIN = 30;
const BOX = [
  [0, 0],
  [900, 0],
  [900, 450],
  [0, 450],
];

/** The pane to scale with its flaws; a touch puts one where it is. Seen from inside it is mirrored, and says so. */
export function LookPane({
  window,
  look,
  side,
  chosen,
  putting,
  busy,
  onPut,
  onPick,
}: {
  window: JobWindow;
  look: LookWindow;
  side: Side;
  chosen: string | null;
  /** What a touch puts, in words. */
  putting: string;
  busy: boolean;
  onPut: (at: { x: number; y: number }) => void;
  onPick: (flaw: Flaw) => void;
}) {
  const { inks } = useTheme();
  const [frame, room] = useRoom<HTMLElement>(WIDTH);
  const svg = useRef<SVGSVGElement>(null);
  const text = textIn(WIDTH, room);
  const ring = window.pane.ring.length > 0 ? window.pane.ring : BOX;
  const w = Math.max(...ring.map(([x]) => x ?? 0));
  const h = Math.max(...ring.map(([, y]) => y ?? 0));
  const scale = Math.min((WIDTH - 2 * MARGIN) / w, (HEIGHT - 2 * MARGIN) / h);
  const [left, top] = [(WIDTH - w * scale) / 2, (HEIGHT - h * scale) / 2];
  const drawn = side === "inside" ? ring.map(([x = 0, y = 0]) => [w - x, y]) : ring;
  const at = (flaw: Flaw): [number, number] => {
    const [across, down] = drawnAt(flaw, side);
    return [left + across * w * scale, top + down * h * scale];
  };
  const put = (event: React.MouseEvent) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box || busy) return;
    const x = ((event.clientX - box.left) / box.width) * WIDTH;
    const y = ((event.clientY - box.top) / box.height) * HEIGHT;
    onPut(touchedAt((x - left) / (w * scale), (y - top) / (h * scale), side));
  };
  const front = window.side === "driver" ? side === "outside" : side === "inside";
  const facing = window.side === "centre" ? "" : front ? "◀ front of car" : "front of car ▶";
  return (
    <Box
      ref={frame}
      component="figure"
      sx={{ m: 0, bgcolor: "background.paper", border: 1, borderColor: "divider" }}
    >
      <svg
        ref={svg}
        viewBox={`0 0 ${String(WIDTH)} ${String(HEIGHT)}`}
        role="group"
        aria-label={`${window.label}, seen from ${side}${side === "inside" ? ", mirrored" : ""}`}
        style={{ width: "100%", display: "block", maxHeight: "32vh", touchAction: "manipulation" }}
      >
        <polygon
          points={ringPoints(drawn, scale, left, top + h * scale)}
          fill={window.shade.backdrop}
          fillOpacity={0.35}
          stroke={inks.ink}
          strokeWidth={2.5}
          strokeLinejoin="round"
          strokeDasharray={window.pane.measured ? undefined : "9 6"}
          style={{ cursor: "crosshair" }}
          data-put-here
          onClick={put}
        />
        {look.flaws
          .filter((flaw) => flaw.closed === "")
          .map((flaw) => {
            const [x, y] = at(flaw);
            const picked = flaw.id === chosen;
            const color =
              flaw.decision === "redo" ? inks.bad : flaw.settled ? inks.good : picked ? inks.sun : inks.ink;
            return (
              <g
                key={flaw.id}
                role="button"
                tabIndex={0}
                aria-label={`${flaw.words}, ${flaw.where}`}
                aria-pressed={picked}
                data-flaw={flaw.kind}
                style={{ cursor: "pointer" }}
                onClick={() => onPick(flaw)}
                onKeyDown={(event) => {
                  if (event.key === "Enter" || event.key === " ") {
                    event.preventDefault();
                    onPick(flaw);
                  }
                }}
              >
                <circle
                  cx={x}
                  cy={y}
                  r={28}
                  fill={picked ? inks.sheet : "transparent"}
                  fillOpacity={0.7}
                  stroke={picked ? inks.sun : "transparent"}
                  strokeWidth={3}
                />
                <FlawMark kind={flaw.kind} x={x} y={y} size={34} color={color} halo={inks.sheet} />
              </g>
            );
          })}
        <text x={12} y={22} fontSize={text(15)} fill={inks.soft} fontWeight="600">
          {facing}
        </text>
        <text x={12} y={HEIGHT - 10} fontSize={text(15)} fill={inks.soft}>
          a touch puts: {putting}
        </text>
        <text x={WIDTH - 12} y={HEIGHT - 10} textAnchor="end" fontSize={text(15)} fill={inks.soft}>
          seen from {side}
          {side === "inside" ? ", mirrored" : ""}
          {window.pane.measured ? "" : ", outline not measured"}
        </text>
      </svg>
    </Box>
  );
}

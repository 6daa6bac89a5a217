import { Box, Typography, useMediaQuery, useTheme } from "@mui/material";
import { useLayoutEffect, useRef, useState } from "react";
import type { Job, JobWindow } from "../../../api/client";
import { WORDS } from "../../../api/words";
import { PaneShape, showPercent, useSmallScreen } from "../../../shared";

const ROOMY = 120;
/** Half as tall where the station needs the room: a low screen, or a narrow one. */
const LOW = 50;
const LOW_SCREEN = "(max-height: 860px), (max-width: 600px)";
const LOWEST = 34;
const UNKNOWN = { width: 74, height: 26 };
const PAD = 6;
const LEAST_WIDTH = 118;
/** Figure and ticks on one line need more. */
const LEAST_SMALL = 152;
/** One tick more, where old film comes off. */
const SIDING_WIDTH = 40;
/** Room for a label on one line, where the windows leave it. */
const LABEL_WIDTH = 128;

interface Props {
  job: Job;
  selected: string | null;
  onSelect: (id: string | null) => void;
}

/** All glass of the car to one scale, in walkaround order, each pane as dark as it will be. */
export function Band({ job, selected, onSelect }: Props) {
  const { inks } = useTheme();
  const low = useMediaQuery(LOW_SCREEN);
  const small = useSmallScreen();
  const height = small ? LOWEST : low ? LOW : ROOMY;
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1200);
  useLayoutEffect(() => {
    const measure = () => {
      if (box.current) setWidth(box.current.clientWidth);
    };
    measure();
    const watcher = new ResizeObserver(measure);
    if (box.current) watcher.observe(box.current);
    return () => {
      watcher.disconnect();
    };
  }, []);
  const scale = bandScale(job.windows, width, height);
  return (
    <Box
      ref={box}
      role="group"
      aria-label="Walkaround band"
      sx={{
        display: "flex",
        alignItems: "stretch",
        gap: 0.5,
        overflowX: "auto",
        position: "relative",
        borderBottom: 2,
        borderColor: "text.primary",
        pb: 0.5,
      }}
    >
      {job.windows.map((window) => {
        const isSelected = window.id === selected;
        const paneWidth = Math.max(
          (small ? LEAST_SMALL : LEAST_WIDTH) + (window.ticks.strip_off === null ? 0 : SIDING_WIDTH),
          (window.pane.width_mm ?? 0) * scale + 2 * PAD,
          window.pane.ring.length ? 0 : UNKNOWN.width + 2 * PAD,
        );
        return (
          <Box
            key={window.id}
            component="button"
            type="button"
            aria-pressed={isSelected}
            data-window={window.label}
            onClick={() => {
              onSelect(window.id);
            }}
            sx={{
              flex: `0 1 ${String(Math.max(paneWidth, LABEL_WIDTH))}px`,
              minWidth: paneWidth,
              font: "inherit",
              color: "inherit",
              textAlign: "left",
              cursor: "pointer",
              p: 0,
              pb: 0.5,
              display: "flex",
              flexDirection: "column",
              justifyContent: "flex-start",
              background: isSelected ? inks.sheet : "none",
              border: "none",
              borderBottom: `5px solid ${isSelected ? inks.sun : "transparent"}`,
            }}
          >
            <svg width={paneWidth} height={height} aria-hidden="true" style={{ display: "block" }}>
              {window.pane.ring.length ? (
                <>
                  <PaneShape
                    ring={window.pane.ring}
                    measured={window.pane.measured}
                    scale={scale}
                    left={PAD}
                    base={height - 6}
                    fill={window.coverage === "strip" ? window.shade.bare_backdrop : window.shade.backdrop}
                    stroke={inks.ink}
                    strokeWidth={isSelected ? 2.5 : 1.25}
                  />
                  {window.strip_rings.map((ring, i) => (
                    <PaneShape
                      key={i}
                      ring={ring}
                      measured={window.pane.measured}
                      scale={scale}
                      left={PAD}
                      base={height - 6}
                      fill={window.shade.backdrop}
                      stroke={inks.ink}
                      strokeWidth={1}
                    />
                  ))}
                </>
              ) : (
                <g>
                  <rect
                    x={PAD}
                    y={height - 6 - UNKNOWN.height}
                    width={UNKNOWN.width}
                    height={UNKNOWN.height}
                    fill="none"
                    stroke={inks.soft}
                    strokeDasharray="2 4"
                  />
                  <text
                    x={PAD + UNKNOWN.width / 2}
                    y={height - 6 - UNKNOWN.height / 2 + 4}
                    textAnchor="middle"
                    fontSize="13"
                    fill={inks.soft}
                  >
                    no size
                  </text>
                </g>
              )}
            </svg>
            <Box sx={{ px: 0.75 }}>
              <Typography
                component="span"
                sx={{
                  display: "block",
                  fontWeight: 700,
                  fontSize: "0.92rem",
                  lineHeight: 1.2,
                  ...(low ? { whiteSpace: "nowrap", overflow: "hidden", textOverflow: "ellipsis" } : {}),
                }}
              >
                {window.label}
              </Typography>
              <Box
                component="span"
                sx={
                  low
                    ? {
                        display: "flex",
                        columnGap: small ? 0.5 : 1,
                        flexWrap: small ? "nowrap" : "wrap",
                        alignItems: "baseline",
                        ...(small ? { whiteSpace: "nowrap", "& *": { fontSize: "0.8rem" } } : {}),
                      }
                    : {}
                }
              >
                <Typography
                  component="span"
                  sx={{ display: "block", fontSize: "0.88rem", color: "text.secondary" }}
                >
                  {window.shade.vlt_percent === null
                    ? "VLT not known"
                    : `${showPercent(window.shade.vlt_percent)}${window.film_id ? (window.coverage === "strip" ? " strip" : "") : " bare"}`}
                </Typography>
                <Ticks window={window} />
              </Box>
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}

function bandScale(windows: JobWindow[], width: number, height: number): number {
  const known = windows.filter((window) => window.pane.ring.length > 0);
  const tallest = Math.max(300, ...known.map((window) => window.pane.height_mm ?? 0));
  const unknown = (windows.length - known.length) * (UNKNOWN.width + 2 * PAD);
  const total = known.reduce((sum, window) => sum + (window.pane.width_mm ?? 0), 0);
  const gaps = windows.length * (4 + 2 * PAD);
  const byWidth = total > 0 ? Math.max(0.04, (width - unknown - gaps) / total) : 1;
  return Math.min((height - 12) / tallest, byWidth);
}

type Tick = JobWindow["ticks"]["cut"];
const GLYPH: Record<Tick, string> = { done: "✓", open: "–", trouble: "!" };
const SAID: Record<Tick, string> = { done: "done", open: "open", trouble: "held" };
const INK: Record<Tick, string> = { done: "success.main", open: "text.secondary", trouble: "error.main" };
const STATIONS = Object.keys(WORDS.Station) as (keyof JobWindow["ticks"])[];
const NUMBERED = STATIONS.filter((station) => station !== "strip_off");

const SIDINGS: Readonly<Record<string, string>> = { strip_off: "S", quote: "$" };

/** A station's number; a siding has a sign. */
export function stationMark(station: string): string {
  return SIDINGS[station] ?? String(NUMBERED.indexOf(station as (typeof NUMBERED)[number]) + 1);
}

function Ticks({ window }: { window: JobWindow }) {
  return (
    <Box component="span" sx={{ display: "flex", gap: "4px", fontSize: "0.78rem", lineHeight: 1 }}>
      {STATIONS.map((station) => {
        const tick = window.ticks[station];
        if (tick === null) return null;
        return (
          <Box
            component="span"
            key={station}
            aria-label={`${station} ${SAID[tick]}`}
            role="img"
            sx={{ color: INK[tick], fontWeight: 700, textAlign: "center" }}
          >
            <span aria-hidden="true">
              {stationMark(station)}
              <br />
              {GLYPH[tick]}
            </span>
          </Box>
        );
      })}
    </Box>
  );
}

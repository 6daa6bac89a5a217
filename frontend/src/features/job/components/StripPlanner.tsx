import { Box, Button, ToggleButton, ToggleButtonGroup, Typography, useTheme } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import type { Job, JobWindow, Schemas } from "../../../api/client";
import {
  ErrorNote,
  Fractions,
  Pending,
  PaneShape,
  ringPoints,
  Ruled,
  showLength,
  TapeField,
  textIn,
  useRoom,
  useSettings,
} from "../../../shared";
import { stripQuery, useWindowChange } from "../api";
import { readingLabel } from "../logic/windows";
import { QuestionAnswer } from "./QuestionAnswer";

type Strip = Schemas["StripOut"];

/** How deep the strip may reach, how it lies on this windshield, and what the ruler must read. */
export function StripPlanner({ job, window }: { job: Job; window: JobWindow }) {
  const strip = useQuery(stripQuery(window.id, job.input_hash, window.version));
  const writes = useWindowChange(job.id);
  const put = (body: Parameters<typeof writes.change>[1]) => {
    writes.change(window.id, body);
  };
  if (strip.isPending) return <Pending what="the strip" />;
  if (strip.isError) return <ErrorNote error={strip.error} again={() => void strip.refetch()} />;
  return (
    <Ruled
      title={`Strip on ${window.label.toLowerCase()}`}
      action={
        <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
          <ToggleButtonGroup
            exclusive
            size="small"
            value={strip.data.shape}
            aria-label="Lower edge"
            onChange={(_, shape: Strip["shape"] | null) => {
              if (shape) put({ strip_shape: shape });
            }}
          >
            <ToggleButton value="straight">Straight</ToggleButton>
            <ToggleButton value="roof_line">Roof line</ToggleButton>
          </ToggleButtonGroup>
          <ToggleButtonGroup
            exclusive
            size="small"
            value={String(strip.data.pieces_wanted)}
            aria-label="Pieces"
            onChange={(_, pieces: string | null) => {
              if (pieces) put({ strip_pieces: Number(pieces) });
            }}
          >
            <ToggleButton value="1">One piece</ToggleButton>
            <ToggleButton value="2">Two</ToggleButton>
          </ToggleButtonGroup>
        </Box>
      }
    >
      <Reaches
        job={job}
        window={window}
        strip={strip.data}
        onUse={(mm) => {
          put({ readings: { strip_depth: { typed: `${mm.toFixed(1)} mm`, mode: "surface" } } });
        }}
      />
      {strip.data.refused ? (
        <Typography sx={{ my: 1, fontWeight: 700 }}>{strip.data.refused}</Typography>
      ) : (
        <StripDrawing window={window} strip={strip.data} />
      )}
      {strip.data.cautions.map((caution) => (
        <Typography key={caution} sx={{ mt: 0.5 }}>
          {caution}
        </Typography>
      ))}
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "1fr 1fr", sm: "repeat(3, 1fr)" },
          gap: 1.5,
          mt: 1.5,
        }}
      >
        {(["strip_depth", "as1_depth", "housing_width", "housing_depth"] as const).map((key) => (
          <TapeField
            key={key}
            label={readingLabel(key)}
            draftKey={`${window.id}.${key}`}
            saved={window.readings[key]?.typed ?? ""}
            optional={key !== "strip_depth"}
            onCommit={(typed) => {
              put({ readings: { [key]: typed === null ? null : { typed, mode: "surface" } } });
            }}
          />
        ))}
      </Box>
    </Ruled>
  );
}

function Reaches({
  job,
  window,
  strip,
  onUse,
}: {
  job: Job;
  window: JobWindow;
  strip: Strip;
  onUse: (mm: number) => void;
}) {
  const { unit } = useSettings();
  const { allowed_mm: allowed, depth_mm: depth, over_mm: over } = strip;
  return (
    <Box sx={{ my: 1 }}>
      {strip.reaches.map((reach) => (
        <Box key={reach.state}>
          <Typography>
            {reach.state_name}:{" "}
            {reach.none_allowed ? (
              <b>no strip at all</b>
            ) : (
              <>
                {reach.words.startsWith("no rule") ? "" : "down to "}
                <b>{reach.words}</b>
                {reach.depth_mm !== null && <>, here {showLength(reach.depth_mm, unit)}</>}
              </>
            )}
            .
          </Typography>
          {reach.question &&
            !window.verdicts.some((verdict) =>
              verdict.questions.some((question) => question.asks === reach.question?.asks),
            ) && <QuestionAnswer job={job} question={reach.question} state={reach.state} />}
        </Box>
      ))}
      {over > 0 && allowed !== null && depth !== null && (
        <Typography sx={{ color: "error.main", fontWeight: 700 }}>
          {showLength(depth, unit)} is {showLength(depth - allowed, unit)} deeper than allowed.
        </Typography>
      )}
      {allowed !== null && window.readings["strip_depth"] === undefined && (
        <Button
          size="small"
          sx={{ mt: 0.5 }}
          onClick={() => {
            onUse(allowed);
          }}
        >
          Take the whole {showLength(allowed, unit)}
        </Button>
      )}
      {allowed !== null && over > 0 && (
        <Button
          size="small"
          sx={{ mt: 0.5 }}
          onClick={() => {
            onUse(allowed);
          }}
        >
          Bring it up to {showLength(allowed, unit)}
        </Button>
      )}
    </Box>
  );
}

const VIEW = { width: 640, height: 300 };
const MARGIN = { side: 36, top: 58, foot: 34 };

function StripDrawing({ window, strip }: { window: JobWindow; strip: Strip }) {
  const { inks } = useTheme();
  const [box, room] = useRoom<HTMLElement>(VIEW.width);
  const text = textIn(VIEW.width, room);
  const { unit } = useSettings();
  const { ring, measured } = window.pane;
  const [w, h] = [window.pane.width_mm ?? 1, window.pane.height_mm ?? 1];
  const scale = Math.min((VIEW.width - 2 * MARGIN.side) / w, (VIEW.height - MARGIN.top - MARGIN.foot) / h);
  const xs = ring.map(([x = 0]) => x);
  const ys = ring.map(([, y = 0]) => y);
  const left = (VIEW.width - w * scale) / 2 - Math.min(...xs) * scale;
  const base = MARGIN.top + h * scale + Math.min(...ys) * scale;
  return (
    <Box
      ref={box}
      component="figure"
      sx={{ m: 0, bgcolor: "background.paper", border: 1, borderColor: "divider" }}
    >
      <svg
        viewBox={`0 0 ${String(VIEW.width)} ${String(VIEW.height)}`}
        role="img"
        aria-label={`Strip on ${window.label.toLowerCase()}, ${strip.shape === "straight" ? "straight" : "along the roof line"}, ${String(strip.pieces.length)} ${strip.pieces.length === 1 ? "piece" : "pieces"}, seen from outside`}
        style={{ width: "100%", display: "block" }}
      >
        <PaneShape
          ring={ring}
          measured={measured}
          scale={scale}
          left={left}
          base={base}
          fill="none"
          stroke={inks.ink}
          strokeWidth={2}
        />
        {strip.pieces.map((piece, i) => (
          <polygon
            key={i}
            data-strip-piece
            points={ringPoints(piece, scale, left, base)}
            fill={inks.shade}
            fillOpacity={0.55}
            stroke={inks.ink}
            strokeWidth={1.25}
          />
        ))}
        <polyline
          points={ringPoints(strip.edge, scale, left, base)}
          fill="none"
          stroke={inks.sun}
          strokeWidth={2}
          strokeDasharray="8 4"
        />
        {strip.rulers.map((ruler) => {
          const x = left + ruler.x_mm * scale;
          const top = base - ruler.top_mm * scale;
          const foot = top + ruler.reads_mm * scale;
          return (
            <g key={ruler.at} data-ruler={ruler.at}>
              <line x1={x} y1={MARGIN.top - 26} x2={x} y2={foot} stroke={inks.sun} strokeWidth={3} />
              {[top, foot].map((y) => (
                <line key={y} x1={x - 8} y1={y} x2={x + 8} y2={y} stroke={inks.sun} strokeWidth={3} />
              ))}
              <text
                x={x}
                y={MARGIN.top - 32}
                textAnchor="middle"
                fontSize={text(20)}
                fontWeight="700"
                fill={inks.ink}
              >
                <Fractions text={showLength(ruler.reads_mm, unit)} svg />
              </text>
            </g>
          );
        })}
        <text x={8} y={VIEW.height - 8} fontSize={text(13)} fill={inks.soft}>
          seen from outside; the ruler lies at both corners and the middle, from the top of the glass
          {measured ? "" : "; outline not measured"}
        </text>
      </svg>
    </Box>
  );
}

import { Box, Button, Table, TableBody, TableCell, TableHead, TableRow, Typography, useTheme } from "@mui/material";
import type { FilmPlan } from "../../api/client";
import { showBare, showLength, showMoney, type LengthUnit } from "../logic/format";
import { useSettings } from "../settings";
import { Fractions } from "./Fractions";
import { Answer } from "./states";

const VIEW_WIDTH = 1180;
const TALLEST = 300;
const RULER = 34;
const MM_PER_INCH = 25.4;
const MARGIN = 20;
const CUT_WORDS = { across_roll: "across the roll at", along: "along the roll at", across_lane: "across the strip at" } as const;

type Stock = FilmPlan["stocks"][number];

interface Props {
  plan: FilmPlan;
  lit?: string | null;
  onPick?: (windowId: string) => void;
}

/** One film's layout: how much to pull from which roll, drawn to scale with ruler and numbered cuts. */
export function CutBoard({ plan, lit, onPick }: Props) {
  const { unit } = useSettings();
  const used = plan.stocks.filter((stock) => stock.used_mm > 0);
  return (
    <Box component="section" aria-label={`Cut plan for ${plan.film_name}`} sx={{ mb: 4 }}>
      {plan.unplaced.length > 0 && <Missing plan={plan} unit={unit} />}
      {used.length > 0 && (
        <Answer why={`${plan.film_name}. ${standing(plan)}`}>
          {used.map((stock, i) => `${verb(stock, i === 0)} ${showLength(stock.used_mm, unit)} ${stock.kind === "roll" ? "from" : "of"} ${stock.label}`).join(", ")}
        </Answer>
      )}
      {used.length > 0 && (
        <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 4, rowGap: 2, alignItems: "flex-start" }}>
          <Box sx={{ flex: `0 1 ${String(Math.max(...used.map((stock) => drawn(stock).width)) + MARGIN)}px`, minWidth: 0 }}>
            {used.map((stock) => (
              <StockDrawing key={stock.id} plan={plan} stock={stock} lit={lit ?? null} onPick={onPick} unit={unit} />
            ))}
          </Box>
          <Box sx={{ flex: "1 1 420px", minWidth: 0, display: "flex", flexWrap: "wrap", gap: 4, alignItems: "flex-start" }}>
            <Box sx={{ flex: "1 1 420px", minWidth: 0 }}><CutList plan={plan} unit={unit} /></Box>
            <Box sx={{ flex: "1 1 420px", minWidth: 0 }}><Costs plan={plan} /></Box>
          </Box>
        </Box>
      )}
    </Box>
  );
}

function verb(stock: Stock, first: boolean): string {
  const word = stock.kind === "roll" ? "pull" : "take";
  return first ? word.charAt(0).toUpperCase() + word.slice(1) : word;
}

/** Pieces that the rack has no film for, and the roll to pull for all of them. */
function Missing({ plan, unit }: { plan: FilmPlan; unit: LengthUnit }) {
  const widths = plan.unplaced.map((item) => item.pull_width_mm);
  const widest = widths.includes(null) ? null : Math.max(...widths.map((width) => width ?? 0));
  const total = plan.unplaced.length + plan.pieces.length;
  return (
    <Box role="alert" sx={{ mb: 2 }}>
      <Answer tone="bad" why={widest ? `A ${showLength(widest, unit)} roll of ${plan.film_name} holds them.` : "No customary roll is that wide: plan those panes in strips, or with less play."}>
        {`${String(plan.unplaced.length)} of ${String(total)} pieces fit no ${plan.film_name} on the rack`}
      </Answer>
      <Box sx={{ borderLeft: 6, borderColor: "error.main", bgcolor: "background.paper", px: 1.5, py: 0.5 }}>
        {plan.unplaced.map((item) => (
          <Typography key={item.window_id} sx={{ py: 0.25 }}>
            <b>{item.label}.</b> {item.reason} {item.pull_width_mm ? `Pull a ${showLength(item.pull_width_mm, unit)} roll, ${showLength(item.length_needed_mm, unit)} of it.` : ""}
          </Typography>
        ))}
      </Box>
    </Box>
  );
}

function standing(plan: FilmPlan): string {
  const taken = plan.stocks.reduce((sum, stock) => sum + stock.used_mm * stock.width_mm, 0);
  const kept = plan.leftovers.filter((rest) => rest.usable).reduce((sum, rest) => sum + rest.along_mm * rest.across_mm, 0);
  const keptShare = taken > 0 ? Math.min(100 - plan.score.yield_percent, (100 * kept) / taken) : 0;
  const share = `${plan.score.yield_percent.toFixed(0)} % of the film taken is cut into blanks, ${keptShare.toFixed(0)} % kept as offcuts.`;
  if (plan.hypothetical) return `No such film on the rack: this is cut from a full roll of a customary width. ${share}`;
  if (plan.proven) return `Least cost, proven within three-stage knife cuts (across, along, across). ${share}`;
  if (plan.finished) return `Best found, not proven. ${share}`;
  return `A verified layout, improving. ${share}`;
}

/** Scale and size of a drawing, as wide and as tall as the screen has room for. */
function drawn(stock: Stock): { scale: number; width: number; height: number } {
  const scale = Math.min((VIEW_WIDTH - 8) / stock.used_mm, TALLEST / stock.width_mm);
  return { scale, width: stock.used_mm * scale, height: stock.width_mm * scale };
}

function StockDrawing({ plan, stock, lit, onPick, unit }: { plan: FilmPlan; stock: Stock; lit: string | null; onPick: ((id: string) => void) | undefined; unit: LengthUnit }) {
  const { inks } = useTheme();
  const stockId = stock.id;
  const { scale, width, height } = drawn(stock);
  const pieces = plan.pieces.filter((piece) => piece.stock_id === stockId);
  const rests = plan.leftovers.filter((rest) => rest.stock_id === stockId && rest.x_mm < stock.used_mm - 1);
  const up = (y: number, tall: number) => height - (y + tall) * scale;
  return (
    <Box component="figure" sx={{ m: 0, mt: 1.5 }}>
      <Typography component="figcaption" sx={{ mb: 0.5 }}>
        <b>{stock.label}</b> · {showLength(stock.width_mm, unit)} wide · <b>{stock.facing}</b>{stock.lot ? ` · lot ${stock.lot}` : ""} · seen from above, unrolling ▶ (machine direction)
      </Typography>
      <svg viewBox={`-4 -4 ${String(width + MARGIN)} ${String(height + RULER + 8)}`} style={{ width: "100%", maxWidth: width + MARGIN, display: "block", backgroundColor: inks.sheet }} role="img" aria-label={`${stock.label}: ${pieces.map((piece) => `${piece.mark} ${piece.label}`).join(", ")}`}>
        <defs>
          <pattern id="waste" width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><line x1="0" y1="0" x2="0" y2="8" stroke={inks.rule} strokeWidth="2" /></pattern>
        </defs>
        <rect x={0} y={0} width={width} height={height} fill="url(#waste)" stroke={inks.ink} strokeWidth={2} />
        {rests.filter((rest) => rest.usable).map((rest) => {
          const [x, y, w, h] = [rest.x_mm * scale, up(rest.y_mm, rest.across_mm), rest.along_mm * scale, rest.across_mm * scale];
          return (
            <g key={`${String(rest.x_mm)} ${String(rest.y_mm)}`}>
              <rect x={x} y={y} width={w} height={h} fill={inks.paper} stroke={inks.soft} />
              <KeepWords x={x + w / 2} y={y + h / 2} room={w - 12} size={`${showBare(rest.along_mm, unit)} × ${showBare(rest.across_mm, unit)}`} />
            </g>
          );
        })}
        {pieces.map((piece) => {
          const [x, y, w, h] = [piece.x_mm * scale, up(piece.y_mm, piece.across_mm), piece.along_mm * scale, piece.across_mm * scale];
          const isLit = piece.window_id === lit;
          const room = Math.min(w / 7, h / 4.2);
          return (
            <g key={piece.mark} onClick={() => { onPick?.(piece.window_id); }} style={{ cursor: onPick ? "pointer" : "default" }} data-piece={piece.mark}>
              <rect x={x} y={y} width={w} height={h} fill={inks.sheet} stroke={isLit ? inks.sun : inks.ink} strokeWidth={isLit ? 4 : 1.2} />
              <polygon points={piece.outline.map(([px = 0, py = 0]) => `${(px * scale).toFixed(1)},${(height - py * scale).toFixed(1)}`).join(" ")} fill={inks.shade} fillOpacity={0.13} stroke={inks.ink} strokeWidth={1} strokeDasharray={piece.measured ? undefined : "5 4"} />
              <text x={x + w / 2} y={y + h / 2} textAnchor="middle" fontWeight="700" fontSize={Math.max(16, Math.min(34, room * 1.4))} fill={inks.ink}>{piece.mark}{piece.pair_mark ? "*" : ""}</text>
              <text x={x + w / 2} y={y + h / 2 + 19} textAnchor="middle" fontSize={Math.max(10, Math.min(16, room))} fill={inks.ink}>{piece.label}</text>
              <text x={x + w / 2} y={y + h / 2 + 37} textAnchor="middle" fontSize={Math.max(10, Math.min(15, room))} fill={inks.ink}><Fractions svg text={`${showBare(piece.along_mm, unit)} × ${showBare(piece.across_mm, unit)}`} /></text>
              {piece.unlawful && <text x={x + w / 2} y={y + h / 2 + 55} textAnchor="middle" fontSize={Math.max(10, Math.min(14, room))} fontWeight="700" fill={inks.bad}>{piece.unlawful.split(";")[0]}</text>}
            </g>
          );
        })}
        {plan.cuts.filter((cut) => cut.stock_id === stockId).map((cut) => {
          const [[startX = 0, startY = 0], [endX = 0, endY = 0]] = [cut.start, cut.end];
          const [x1, y1, x2, y2] = [startX * scale, height - startY * scale, endX * scale, height - endY * scale];
          const [nx, ny] = [x1 + (x2 - x1) * 0.22, y1 + (y2 - y1) * 0.22];
          return (
            <g key={cut.number}>
              <line x1={x1} y1={y1} x2={x2} y2={y2} stroke={inks.sun} strokeWidth={2} />
              <circle cx={nx} cy={ny} r={11} fill={inks.sun} />
              <text x={nx} y={ny + 4.5} textAnchor="middle" fontSize="13" fontWeight="700" fill={inks.onSun}>{cut.number}</text>
            </g>
          );
        })}
        <Ruler length={stock.used_mm} scale={scale} top={height} unit={unit} ink={inks.ink} />
      </svg>
    </Box>
  );
}

/** “keep 20 × 30” on one line, or on two where the offcut is drawn narrow. */
function KeepWords({ x, y, room, size }: { x: number; y: number; room: number; size: string }) {
  const { inks } = useTheme();
  const narrow = room < 130;
  const fontSize = narrow ? Math.max(10, Math.min(14, room / 5.5)) : 14;
  return (
    <text textAnchor="middle" fontSize={fontSize} fill={inks.ink}>
      {narrow && <tspan x={x} y={y - 3}>keep</tspan>}
      <tspan x={x} y={narrow ? y + fontSize : y + 5}><Fractions svg text={narrow ? size : `keep ${size}`} /></tspan>
    </text>
  );
}

function Ruler({ length, scale, top, unit, ink }: { length: number; scale: number; top: number; unit: LengthUnit; ink: string }) {
  const step = unit === "in" ? MM_PER_INCH : 25;
  const every = scale * step < 4 ? 4 : 1;
  const labelled = unit === "in" ? 10 : 20;
  const count = Math.floor(length / step);
  return (
    <g aria-hidden="true">
      {Array.from({ length: count + 1 }, (_, i) => i).filter((i) => i % every === 0 || i % labelled === 0).map((i) => {
        const x = i * step * scale;
        const long = i % labelled === 0;
        return (
          <g key={i}>
            <line x1={x} y1={top} x2={x} y2={top + (long ? 12 : 6)} stroke={ink} strokeWidth={long ? 1.5 : 0.75} />
            {long && <text x={Math.min(x, length * scale - 12)} y={top + 28} textAnchor={i === 0 ? "start" : "middle"} fontSize="14" fill={ink}>{unit === "in" ? i : i * step}</text>}
          </g>
        );
      })}
    </g>
  );
}

function CutList({ plan, unit }: { plan: FilmPlan; unit: LengthUnit }) {
  const labels = new Map(plan.stocks.map((stock) => [stock.id, stock.label]));
  const several = new Set(plan.cuts.map((cut) => cut.stock_id)).size > 1;
  return (
    <Table size="small" aria-label={`Cuts for ${plan.film_name}`}>
      <TableHead>
        <TableRow><TableCell>Cut</TableCell>{several && <TableCell>Stock</TableCell>}<TableCell>Knife</TableCell><TableCell align="right">Ruler, {unit}</TableCell><TableCell>from</TableCell></TableRow>
      </TableHead>
      <TableBody>
        {plan.cuts.map((cut) => (
          <TableRow key={cut.number}>
            <TableCell sx={{ fontWeight: 700 }}>{cut.number}</TableCell>
            {several && <TableCell>{labels.get(cut.stock_id)}</TableCell>}
            <TableCell>{CUT_WORDS[cut.kind]}</TableCell>
            <TableCell align="right" sx={{ fontFamily: '"B612 Mono", monospace', fontWeight: 700 }}>{showBare(cut.at_mm, unit)}</TableCell>
            <TableCell>{cut.measured_from}</TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

function Costs({ plan }: { plan: FilmPlan }) {
  if (plan.hypothetical) return null;
  const rows: [string, FilmPlan["score"] | null][] = [
    ["This plan", plan.score],
    ["One after another, each on the narrowest roll", plan.baseline_narrowest],
    ["One after another, all on the cheapest roll", plan.baseline_single],
  ];
  return (
    <Box>
      <Table size="small" aria-label={`Cost for ${plan.film_name}`}>
        <TableHead>
          <TableRow><TableCell>Way of cutting</TableCell><TableCell align="right">New film</TableCell><TableCell align="right">Knife min</TableCell><TableCell align="right">Kept</TableCell><TableCell align="right">Net</TableCell></TableRow>
        </TableHead>
        <TableBody>
          {rows.map(([words, score]) => (
            <TableRow key={words}>
              <TableCell>{words}</TableCell>
              {score ? (
                <>
                  <TableCell align="right">{showMoney(score.new_film)}</TableCell>
                  <TableCell align="right">{score.minutes.toFixed(1)}</TableCell>
                  <TableCell align="right">{showMoney(score.offcuts_kept)}</TableCell>
                  <TableCell align="right" sx={{ fontWeight: 700 }}>{showMoney(score.net)}</TableCell>
                </>
              ) : (
                <TableCell colSpan={4}>cannot hold all pieces</TableCell>
              )}
            </TableRow>
          ))}
          <TableRow><TableCell>No layout of any kind buys less than</TableCell><TableCell align="right">{showMoney(plan.bound_free)}</TableCell><TableCell colSpan={3}>area over width: {showMoney(plan.bound_area)}</TableCell></TableRow>
        </TableBody>
      </Table>
      {plan.score.offcuts_used > 0 && <Typography variant="body2" sx={{ mt: 1 }}>Offcuts taken from the rack count {showMoney(plan.score.offcuts_used)} in the net.</Typography>}
    </Box>
  );
}

/** Cutting is done with a blade; said where it is done. */
export function BladeCaution() {
  return <Typography variant="body2" color="text.secondary">Cut away from yourself. Cap the blade, bin used segments. Check the liner side with two tabs of tape before the first cut.</Typography>;
}

/** Stop a search that still runs; the best layout found stays. */
export function StopButton({ onStop, disabled }: { onStop: () => void; disabled: boolean }) {
  return <Button onClick={onStop} disabled={disabled}>Stop, keep this one</Button>;
}

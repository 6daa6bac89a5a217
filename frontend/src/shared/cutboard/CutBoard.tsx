import { Box, Button, Typography } from "@mui/material";
import { useEffect, type KeyboardEvent, type PointerEvent, type RefObject } from "react";
import type { FilmPlan } from "../../api/client";
import { Fractions } from "../components/Fractions";
import { Answer } from "../components/states";
import { capital, showLength, showMoney, type LengthUnit } from "../logic/format";
import { pullWords } from "../logic/pulls";
import { useHeightBelow, useRoom } from "../room";
import { useSettings } from "../settings";
import { Costs, CutList } from "./CutTables";
import { keyOf, useMoving, type Hand, type Piece } from "./hand";
import { HandBar } from "./HandBar";
import { cutNow, Missing, type Mends } from "./Missing";
import { SheetAnswer } from "./SheetAnswer";
import { drawnLength, MARGIN, scaleFor, StockDrawing, TALLEST, VIEW_WIDTH, type Stock } from "./StockDrawing";

/** Room for the line over a drawing. */
const CAPTION = 560;

interface Props {
  plan: FilmPlan;
  lit?: string | null;
  onPick?: (windowId: string) => void;
  /** Height of what stands above the board, so that answer and drawing are seen together [px]. */
  above?: number;
  /** What one touch can do about film that is short; null where nothing can, and the page's answer stands elsewhere. */
  mends?: Mends | null;
  /** All films of the job: they are drawn at one scale. */
  films?: readonly FilmPlan[];
  /** How pieces are moved by hand, where they can be. */
  hand?: Hand;
}

/** The piece that is picked has the keyboard again once the board can be touched, where nothing else took it. */
function useKeepFocus(
  board: RefObject<HTMLElement | null>,
  picked: string | null,
  touchable: boolean,
  plan: FilmPlan,
): void {
  useEffect(() => {
    if (picked === null || !touchable || document.activeElement !== document.body) return;
    const pieces = board.current?.querySelectorAll<SVGElement>("[data-for]") ?? [];
    [...pieces].find((piece) => piece.dataset["for"] === picked)?.focus({ preventScroll: true });
  }, [board, picked, touchable, plan]);
}

/** Stock of a film that is drawn. */
function used(plan: FilmPlan): Stock[] {
  return plan.stocks.filter((stock) => stock.used_mm > 0 || plan.sheet !== null);
}

/** One film's layout: how much to pull from which roll, drawn to scale with ruler and numbered cuts. */
export function CutBoard({ plan, lit, onPick, above = 490, mends, films, hand }: Props) {
  const { unit } = useSettings();
  const byHand = hand?.film === plan.film_id;
  const picked = byHand ? hand.picked : null;
  const moves = useMoving(byHand ? hand : null);
  // A piece that is taken hold of is the picked one.
  const moving = {
    ...moves,
    onKeyDown: (piece: Piece, event: KeyboardEvent) => {
      const known = moves.onKeyDown(piece, event);
      if (known) hand?.pick(keyOf(piece));
      return known;
    },
    onPointerDown: (piece: Piece, event: PointerEvent) => {
      hand?.pick(keyOf(piece));
      moves.onPointerDown(piece, event);
    },
  };
  // Drawn in the screen's own pixels, so that text is as large as it says.
  const [box, room] = useRoom<HTMLElement>(VIEW_WIDTH);
  const tallest = useHeightBelow(above, 190, TALLEST);
  const shown = used(plan);
  const scale = scaleFor((films ?? [plan]).flatMap(used), room, tallest, byHand);
  useKeepFocus(box, picked, !hand?.busy, plan);
  const pick = (piece: Piece) => {
    hand?.pick(keyOf(piece));
    onPick?.(piece.window_id);
  };
  const isLit = (piece: Piece) => (byHand ? keyOf(piece) === picked : piece.window_id === (lit ?? null));
  const widest = Math.max(0, ...shown.map((stock) => drawnLength(stock, byHand) * scale + MARGIN));
  return (
    <Box ref={box} component="section" aria-label={`Cut plan for ${plan.film_name}`} sx={{ mb: 4 }}>
      {plan.sheet && <SheetAnswer sheet={plan.sheet} unit={unit} />}
      {plan.unplaced.length > 0 && <Missing plan={plan} unit={unit} mends={mends ?? null} />}
      {shown.length > 0 && (
        <Box
          id={cutNow(plan)}
          sx={{ display: "flex", flexWrap: "wrap", columnGap: 2, alignItems: "flex-start" }}
        >
          <Box sx={{ flex: "1 1 420px" }}>
            <Order
              main={mends === undefined && plan.sheet === null}
              why={`${plan.film_name}. ${standing(plan)}`}
            >
              {capital(shown.map((stock) => pullWords(plan, stock, (mm) => showLength(mm, unit))).join("; "))}
            </Order>
          </Box>
          {hand && plan.pieces.length > 0 && (
            <Button
              aria-pressed={byHand}
              variant={byHand ? "contained" : "outlined"}
              sx={{ "@media print": { display: "none" } }}
              onClick={() => hand.choose(byHand ? null : plan.film_id)}
            >
              {byHand ? "Done by hand" : "Move by hand"}
            </Button>
          )}
        </Box>
      )}
      <LessPlay plan={plan} unit={unit} />
      {plan.by_hand_refused.map((words) => (
        <Typography key={words} role="alert" sx={{ color: "error.main", fontWeight: 700 }}>
          {words}
        </Typography>
      ))}
      {byHand && (
        <HandBar
          plan={plan}
          hand={hand}
          moving={moving}
          picked={plan.pieces.find((piece) => keyOf(piece) === picked) ?? null}
        />
      )}
      {shown.length > 0 && (
        <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 4, rowGap: 2, alignItems: "flex-start" }}>
          <Box
            sx={{
              flex: `0 1 ${String(Math.max(CAPTION, widest))}px`,
              minWidth: 0,
            }}
          >
            {shown.map((stock) => (
              <StockDrawing
                key={stock.id}
                plan={plan}
                stock={stock}
                scale={scale}
                lit={isLit}
                onPick={onPick || hand ? pick : undefined}
                moving={byHand ? moving : null}
                unit={unit}
              />
            ))}
          </Box>
          <Box
            sx={{
              flex: "1 1 420px",
              minWidth: 0,
              display: "flex",
              flexWrap: "wrap",
              gap: 4,
              alignItems: "flex-start",
            }}
          >
            <Box sx={{ flex: "1 1 420px", minWidth: 0 }}>
              <Whys plan={plan} />
              <CutList plan={plan} unit={unit} />
            </Box>
            <Box sx={{ flex: "1 1 420px", minWidth: 0 }}>
              <Costs plan={plan} />
            </Box>
          </Box>
        </Box>
      )}
    </Box>
  );
}

/** Why this stock and this way round, and what the customary ways cost. */
function Whys({ plan }: { plan: FilmPlan }) {
  const ways: [string, FilmPlan["score"] | null][] = [
    ["on the narrowest roll each", plan.baseline_narrowest],
    ["all on one roll", plan.baseline_single],
  ];
  const told = ways.flatMap(([words, score]) =>
    score && score.net !== null
      ? [`${words} ${showMoney(score.net)} (${showMoney(score.new_film)} of film)`]
      : [],
  );
  if (plan.why.length + told.length === 0 || plan.hypothetical) return null;
  return (
    <Typography variant="body2" data-why sx={{ mb: 1 }}>
      {[
        ...plan.why,
        ...(told.length && plan.score.net !== null
          ? [`One after another: ${told.join(", ")}; so ${showMoney(plan.score.net)}.`]
          : []),
      ].join(" ")}
    </Typography>
  );
}

/** What to pull; the screen's own answer, or below one that counts what is ready. */
function Order({ main, why, children }: { main: boolean; why: string; children: string }) {
  if (main) return <Answer why={why}>{children}</Answer>;
  return (
    <Box aria-live="polite" sx={{ mb: 1 }}>
      <Typography component="p" data-pull sx={{ fontWeight: 700, fontSize: "1.6rem", lineHeight: 1.2 }}>
        <Fractions text={children} />
      </Typography>
      <Typography variant="body2">{why}</Typography>
    </Box>
  );
}

/** Pieces that are cut with less play than usual, because somebody took them so. */
function LessPlay({ plan, unit }: { plan: FilmPlan; unit: LengthUnit }) {
  const tight = plan.pieces.filter((piece) => piece.play_mm !== null);
  if (tight.length === 0) return null;
  return (
    <Typography sx={{ fontWeight: 700 }}>
      Less play than usual:{" "}
      {tight.map((piece) => `${piece.label}, ${showLength(piece.play_mm ?? 0, unit)} each side`).join("; ")}.
    </Typography>
  );
}

function standing(plan: FilmPlan): string {
  const taken = plan.stocks.reduce((sum, stock) => sum + stock.used_mm * stock.width_mm, 0);
  const kept = plan.leftovers
    .filter((rest) => rest.usable)
    .reduce((sum, rest) => sum + rest.along_mm * rest.across_mm, 0);
  const keptShare = taken > 0 ? Math.min(100 - plan.score.yield_percent, (100 * kept) / taken) : 0;
  const share = `${plan.score.yield_percent.toFixed(0)} % of the film taken is cut into pieces, ${keptShare.toFixed(0)} % kept as offcuts.`;
  if (plan.hypothetical)
    return `No such film on the rack: this is cut from a full roll of a customary width. ${share}`;
  if (plan.proven)
    return `Least cost, proven within three-stage knife cuts (across, along, across). ${share}`;
  if (plan.finished) return `Best found, not proven${gap(plan)}. ${share}`;
  return `A verified layout, improving. ${share}`;
}

/** How far the film bought lies from the least that any layout could buy, as a share of it. */
function gap(plan: FilmPlan): string {
  const { bound_free, score } = plan;
  if (!score.new_film || bound_free === null) return "";
  const percent = Math.max(0, (100 * (score.new_film - bound_free)) / score.new_film).toFixed(0);
  return percent === "0"
    ? "; no layout of any kind buys less film"
    : `: at most ${percent} % less film could do`;
}

/** Cutting is done with a blade; said where it is done. */
export function BladeCaution() {
  return (
    <Typography variant="body2" color="text.secondary">
      Cut away from yourself. Cap the blade, bin used segments. Check the liner side with two tabs of tape
      before the first cut.
    </Typography>
  );
}

/** Stop a search that still runs; the best layout found stays. */
export function StopButton({ onStop, disabled }: { onStop: () => void; disabled: boolean }) {
  return (
    <Button onClick={onStop} disabled={disabled}>
      Stop, keep this one
    </Button>
  );
}

import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { FilmPlan, Schemas } from "../../api/client";

export type Piece = FilmPlan["pieces"][number];
export type PlaceOut = Schemas["PlaceOut"];
type Turn = PlaceOut["turn"];

/** Where a piece is held: its least corner on a stock, as seen from above, and which way round. */
export interface HandPlace {
  stock_id: string;
  x_mm: number;
  y_mm: number;
  turn: Turn;
}

/** What a board asks and does when pieces are moved by hand. */
export interface Hand {
  tryPlace: (piece: Piece, place: HandPlace) => Promise<PlaceOut>;
  put: (piece: Piece, place: HandPlace) => void;
  letGo: (pieces: readonly Piece[]) => void;
  told: (words: string) => void;
  /** Whether a change of the job is being saved: the plan shown is of the job before it. */
  busy: boolean;
  /** The film whose pieces are moved now; none at first. */
  film: string | null;
  choose: (filmId: string | null) => void;
  /** The piece that is picked, by what it is for; kept here, for boards come and go while plans are made. */
  picked: string | null;
  pick: (key: string) => void;
}

/** A piece in somebody's hand: where it is held, and what was last said of that. */
export interface Held {
  piece: Piece;
  place: HandPlace;
  answer: PlaceOut | null;
  /** Whether a pointer drags it; else it is moved by keys until it is put down. */
  dragged: boolean;
}

const STEP_MM = 25.4;
const SMALL_STEP_MM = 1.5875;
const DRAG_FROM_PX = 5;

/** Pieces moved by mouse, touch and keyboard; a place is asked about while the piece is held over it. */
export function useMoving(hand: Hand | null) {
  const [held, setHeld] = useState<Held | null>(null);
  const asking = useRef(false);
  const latest = useRef<Held | null>(null);
  const stop = useRef<() => void>(() => undefined);
  useEffect(() => () => stop.current(), []);

  const show = (next: Held | null) => {
    latest.current = next;
    setHeld(next);
  };

  /** One question at a time; the place held now is asked next. */
  const ask = async () => {
    if (!hand || asking.current) return;
    asking.current = true;
    let asked: HandPlace | null = null;
    try {
      while (latest.current && latest.current.place !== asked) {
        const { piece, place } = latest.current;
        asked = place;
        const answer = await hand.tryPlace(piece, place);
        // A piece that was put down meanwhile stays down.
        const now = latest.current as Held | null;
        if (now && now.piece === piece) show({ ...now, answer });
      }
    } catch {
      show(null);
    } finally {
      asking.current = false;
    }
  };

  const hold = (piece: Piece, place: HandPlace, dragged: boolean) => {
    show({ piece, place, answer: latest.current?.answer ?? null, dragged });
    void ask();
  };

  /** Asked once more about the very place, then put there; a place that cannot be is told and nothing moves. */
  const put = async (piece: Piece, place: HandPlace) => {
    show(null);
    if (!hand) return;
    try {
      const answer = await hand.tryPlace(piece, place);
      if (answer.refused) hand.told(`${piece.label}: ${answer.refused}`);
      else hand.put(piece, answer);
    } catch (error) {
      hand.told(error instanceof Error ? error.message : "The place could not be tried.");
    }
  };

  const onPointerDown = (piece: Piece, event: PointerEvent) => {
    if (!hand || event.button !== 0) return;
    const start = pointAt(event.clientX, event.clientY);
    if (!start) return;
    const [fromX, fromY] = [event.clientX, event.clientY];
    const grab = { x: start.x - piece.x_mm, y: start.y - piece.y_mm };
    let place: HandPlace | null = null;
    const move = (now: globalThis.PointerEvent) => {
      if (!place && Math.hypot(now.clientX - fromX, now.clientY - fromY) < DRAG_FROM_PX) return;
      const at = pointAt(now.clientX, now.clientY) ?? null;
      if (!at) return;
      place = {
        stock_id: at.stock,
        x_mm: Math.max(0, at.x - grab.x),
        y_mm: at.y - grab.y,
        turn: piece.turn as Turn,
      };
      hold(piece, place, true);
    };
    const end = (commit: boolean) => () => {
      stop.current();
      if (commit && place) void put(piece, place);
      else show(null);
    };
    const [up, cancel] = [end(true), end(false)];
    const key = (now: globalThis.KeyboardEvent) => {
      if (now.key === "Escape") cancel();
    };
    stop.current = () => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up);
      window.removeEventListener("pointercancel", cancel);
      window.removeEventListener("keydown", key);
      stop.current = () => undefined;
    };
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up);
    window.addEventListener("pointercancel", cancel);
    window.addEventListener("keydown", key);
  };

  /** Arrows move, T turns, Enter puts down, L keeps it where it lies, U lets go; whether the key was one of these. */
  const onKeyDown = (piece: Piece, event: KeyboardEvent): boolean => {
    if (!hand) return false;
    const own = held?.piece.mark === piece.mark ? held.place : placeOf(piece);
    const step = event.shiftKey ? SMALL_STEP_MM : STEP_MM;
    const by = ARROWS[event.key];
    const key = event.key.toLowerCase();
    if (by)
      hold(
        piece,
        { ...own, x_mm: Math.max(0, own.x_mm + by[0] * step), y_mm: own.y_mm + by[1] * step },
        false,
      );
    else if (key === "t") hold(piece, { ...own, turn: nextTurn(piece, own.turn) }, false);
    else if (event.key === "Enter" && held) void put(piece, held.place);
    else if (event.key === "Escape" && held) show(null);
    else if (key === "l") void put(piece, placeOf(piece));
    else if (key === "u" && piece.by_hand) hand.letGo([piece]);
    else return false;
    event.preventDefault();
    event.stopPropagation();
    return true;
  };

  return { held, put, onPointerDown, onKeyDown };
}

export type Moving = ReturnType<typeof useMoving>;

const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/** A piece by what it is for: its mark changes when all is laid anew. */
export function keyOf(piece: Piece): string {
  return `${piece.window_id}:${piece.part}`;
}

export function placeOf(piece: Piece): HandPlace {
  return { stock_id: piece.stock_id, x_mm: piece.x_mm, y_mm: piece.y_mm, turn: piece.turn as Turn };
}

/** The next way in which a piece may lie. */
export function nextTurn(piece: Piece, turn: Turn): Turn {
  const ways = [...piece.turns].sort((one, other) => one - other) as Turn[];
  return ways.find((way) => way > turn) ?? ways[0] ?? turn;
}

/** The stock under a point of the screen, and the point on it [mm]. */
function pointAt(clientX: number, clientY: number): { stock: string; x: number; y: number } | undefined {
  const board = document
    .elementsFromPoint(clientX, clientY)
    .map((one) => one.closest<SVGSVGElement>("svg[data-stock]"))
    .find((one) => one !== null);
  const matrix = board?.getScreenCTM();
  if (!board || !matrix) return undefined;
  const at = new DOMPoint(clientX, clientY).matrixTransform(matrix.inverse());
  const scale = Number(board.dataset["scale"]);
  return {
    stock: board.dataset["stock"] ?? "",
    x: at.x / scale,
    y: (Number(board.dataset["height"]) - at.y) / scale,
  };
}

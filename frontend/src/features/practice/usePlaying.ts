import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Problem } from "../../api/unwrap";
import { sendStrokes, type Frame, type Run, type StrokeRow } from "./api";
import { strokesOf, type Down, type Settings } from "./logic/hands";
import { Player, Refused, STEP_MS } from "./logic/player";

const PASSING = new Set(["busy", "server_error", "queue_full"]);

async function send(id: string, after: number, until: number, rows: StrokeRow[]): Promise<Frame> {
  try {
    return await sendStrokes(id, after, until, rows);
  } catch (error) {
    if (error instanceof Problem && !PASSING.has(error.code)) throw new Refused(error.message);
    throw error;
  }
}

export interface Playing {
  frame: Frame;
  /** Whether time goes on. */
  going: boolean;
  away: boolean;
  problem: string;
  act: (row: StrokeRow) => void;
  touch: (down: Down) => void;
  pause: (still: boolean) => void;
}

/** A run being played: ten steps a second once the hand has done something, and none while the screen is hidden. */
export function usePlaying(run: Run, first: Frame, settings: Settings): Playing {
  const [, setTold] = useState(0);
  const [going, setGoing] = useState(false);
  const down = useRef<Down>(new Map());
  const actions = useRef<StrokeRow[]>([]);
  const chosen = useRef(settings);
  useEffect(() => {
    chosen.current = settings;
  }, [settings]);
  const player = useMemo(
    () =>
      new Player(
        first,
        (after, until, rows) => send(run.id, after, until, rows),
        () => setTold((n) => n + 1),
      ),
    // A run is followed by its own strokes: what was first seen is where it begins.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [run.id],
  );
  useEffect(() => () => player.end(), [player]);
  useEffect(() => {
    if (!going) return;
    const timer = setInterval(() => {
      if (player.waits) return;
      const done = [...actions.current.splice(0, 3), ...strokesOf(down.current, chosen.current)];
      player.tick(done);
      if (player.frame.over) setGoing(false);
    }, STEP_MS);
    const hide = () => {
      if (document.hidden) setGoing(false);
    };
    document.addEventListener("visibilitychange", hide);
    return () => {
      clearInterval(timer);
      document.removeEventListener("visibilitychange", hide);
    };
  }, [going, player]);
  const act = useCallback((row: StrokeRow) => {
    actions.current.push(row);
    setGoing(true);
  }, []);
  const touch = useCallback((now: Down) => {
    down.current = now;
    if (now.size > 0) setGoing(true);
  }, []);
  const pause = useCallback((still: boolean) => setGoing(!still), []);
  return { frame: player.frame, going, away: player.away, problem: player.problem, act, touch, pause };
}

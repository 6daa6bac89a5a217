import { Box, useTheme } from "@mui/material";
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { useRoom } from "../../../shared";
import type { Frame, Run, StrokeRow } from "../api";
import { cells, fitted, toPane, type Place } from "../logic/grid";
import { moved, toolFor, type Contact, type Down, type Settings, type Tool } from "../logic/hands";
import { paintCross, paintFilm, paintRing, type Colours } from "./painting";

const GUN_MM = 45;
const REACH_MM: Readonly<Record<Tool, number>> = { gun: GUN_MM, card: 25, glove: 45, mist: 90 };

/** The pane with its film; hands work on it by finger, mouse or keys. Without `onTouch` it is only looked at. */
export function Glass({
  run,
  frame,
  height,
  settings,
  onTouch,
  trace = null,
  hands = [],
  inside = false,
  hinted = true,
  label,
}: {
  run: Run;
  frame: Frame;
  height: number;
  settings?: Settings;
  onTouch?: (down: Down) => void;
  trace?: string | null;
  hands?: readonly StrokeRow[];
  /** Mirrored, as it is seen from the seat; only to look at. */
  inside?: boolean;
  /** Whether the tutor’s place is shown. */
  hinted?: boolean;
  label: string;
}) {
  const theme = useTheme();
  const [box, width] = useRoom<HTMLDivElement>(640);
  const canvas = useRef<HTMLCanvasElement>(null);
  const film = useRef<HTMLCanvasElement>(null);
  const scratch = useRef<HTMLCanvasElement | null>(null);
  const [down, setDown] = useState<Map<string, Contact>>(new Map());
  const [cursor, setCursor] = useState<Place | null>(null);
  const lie = run.lies.find((one) => one.way === frame.lie) ?? run.lies[0];
  const colours: Colours = useMemo(
    () => ({ ...theme.inks, dark: theme.palette.mode === "dark" }),
    [theme.inks, theme.palette.mode],
  );
  const fit = useMemo(
    () => (lie ? fitted(lie, run.columns, run.rows, width, height) : null),
    [lie, run.columns, run.rows, width, height],
  );
  const heat = useMemo(() => (trace ? cells(trace) : null), [trace]);

  // The film is painted when it changes; hands move over it on a sheet of their own, however late an answer is.
  useEffect(() => {
    const context = prepared(film.current, width, height);
    if (!context || !lie || !fit) return;
    scratch.current ??= document.createElement("canvas");
    const { columns, rows } = run;
    paintFilm({ context, fit, lie, columns, rows, colours }, frame, heat, scratch.current);
    for (const slip of frame.events) paintCross(context, fit, slip, colours.bad);
  }, [run, frame, lie, fit, width, height, colours, heat]);

  useEffect(() => {
    const context = prepared(canvas.current, width, height);
    if (!context || !fit) return;
    context.clearRect(0, 0, width, height);
    if (onTouch && hinted && frame.hint.at && !frame.over) {
      const [x = 0, y = 0] = frame.hint.at;
      paintRing(context, fit, { x, y }, 60, colours.ink, 3);
    }
    for (const { tool, place } of down.values())
      paintRing(context, fit, place, REACH_MM[tool], tool === "gun" ? colours.sun : colours.ink, 5);
    for (const [, what, x, y] of hands)
      if (typeof x === "number" && typeof y === "number")
        paintRing(
          context,
          fit,
          { x, y },
          what === "gun" ? GUN_MM : 25,
          what === "gun" ? colours.sun : colours.ink,
          2,
        );
    if (cursor && settings) paintRing(context, fit, cursor, REACH_MM[settings.tool], colours.soft, 3);
  }, [frame, fit, width, height, colours, down, cursor, settings, hands, hinted, onTouch]);

  const change = (next: Map<string, Contact>) => {
    setDown(next);
    onTouch?.(next);
  };
  const placeOf = (event: PointerEvent): Place | null => {
    const bounds = canvas.current?.getBoundingClientRect();
    return bounds && fit ? toPane(fit, event.clientX - bounds.left, event.clientY - bounds.top) : null;
  };
  const begin = (event: PointerEvent) => {
    const place = placeOf(event);
    if (!onTouch || !settings || !place) return;
    event.preventDefault();
    canvas.current?.focus({ preventScroll: true });
    canvas.current?.setPointerCapture(event.pointerId);
    const other = event.button === 2 || event.shiftKey;
    const tool = toolFor(down, settings, other);
    change(new Map(down).set(`p${event.pointerId}`, { tool, place }));
  };
  const move = (event: PointerEvent) => {
    const key = `p${event.pointerId}`;
    const held = down.get(key);
    const place = placeOf(event);
    if (held && place) change(new Map(down).set(key, { ...held, place }));
  };
  const lift = (key: string) => {
    if (!down.has(key)) return;
    const next = new Map(down);
    next.delete(key);
    change(next);
  };
  const keyDown = (event: KeyboardEvent) => {
    if (!onTouch || !settings || !lie) return;
    const [wide, tall] = [run.columns * lie.u_step, run.rows * lie.v_step];
    const most = lie.way === "across" ? { x: wide / 2, y: tall / 2 } : { x: tall / 2, y: wide / 2 };
    const at = cursor ?? { x: 0, y: 0 };
    const next = moved(at, event.key, event.shiftKey, most);
    if (next) {
      setCursor(next);
      if (down.size > 0)
        change(
          new Map([...down].map(([key, one]) => [key, key.startsWith("k") ? { ...one, place: next } : one])),
        );
    } else if (event.key === " " || event.key === "Enter") {
      setCursor(at);
      const key = event.key === " " ? "k " : "kEnter";
      const tool: Tool =
        event.key === " " ? "gun" : settings.tool === "gun" ? settings.second : settings.tool;
      if (!down.has(key)) change(new Map(down).set(key, { tool, place: at }));
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const keyUp = (event: KeyboardEvent) => {
    if (event.key === " ") lift("k ");
    if (event.key === "Enter") lift("kEnter");
  };

  const look = { display: "block", width: "100%", height, transform: inside ? "scaleX(-1)" : "none" };
  return (
    <Box
      ref={box}
      sx={{
        position: "relative",
        width: "100%",
        outline: 1,
        outlineColor: "divider",
        bgcolor: "background.paper",
        "&:focus-within": { outlineWidth: 3, outlineColor: "secondary.main" },
      }}
    >
      <Box component="canvas" ref={film} aria-hidden sx={look} />
      {/* An application of its own: arrow keys move the hand, space heats, Enter presses. */}
      <Box
        component="canvas"
        ref={canvas}
        tabIndex={onTouch ? 0 : -1}
        role={onTouch ? "application" : "img"}
        aria-label={label}
        onPointerDown={begin}
        onPointerMove={move}
        onPointerUp={(event: PointerEvent) => lift(`p${event.pointerId}`)}
        onPointerCancel={(event: PointerEvent) => lift(`p${event.pointerId}`)}
        onContextMenu={(event: React.SyntheticEvent) => event.preventDefault()}
        onKeyDown={keyDown}
        onKeyUp={keyUp}
        onBlur={() => change(new Map())}
        sx={{
          ...look,
          position: "absolute",
          inset: 0,
          touchAction: onTouch ? "none" : "auto",
          cursor: onTouch ? "crosshair" : "default",
        }}
      />
    </Box>
  );
}

/** A canvas in the screen's own dots, its context in pixels of the page. */
function prepared(canvas: HTMLCanvasElement | null, width: number, height: number) {
  const context = canvas?.getContext("2d");
  if (!canvas || !context) return null;
  const ratio = window.devicePixelRatio || 1;
  const [wide, tall] = [Math.round(width * ratio), Math.round(height * ratio)];
  if (canvas.width !== wide) canvas.width = wide;
  if (canvas.height !== tall) canvas.height = tall;
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  return context;
}

/** Each kind of flaw by a mark of its own, as it is seen on the glass; drawn in a box of 24 by 24. */
const PATHS: Record<string, string> = {
  finger: "M12 3 L20 21 H4 Z",
  water_pocket: "M12 4 C6 12 5 15 5 16 a7 5 0 0 0 14 0 C19 15 18 12 12 4 Z",
  haze: "M3 8 q3 -4 6 0 t6 0 t6 0 M3 13 q3 -4 6 0 t6 0 t6 0 M3 18 q3 -4 6 0 t6 0 t6 0",
  dots: "M12 2 v0.1 M12 7 v0.1 M12 12 v0.1 M12 17 v0.1 M12 22 v0.1",
  lint: "M4 18 C8 4 12 22 20 6",
  speck: "M12 12 v0.1 M12 5 a7 7 0 1 0 0.1 0",
  crease: "M4 20 L9 12 L13 15 L20 4",
  light_gap: "M5 3 V21 M10 3 V21 M10 12 H21",
  overhang: "M3 14 H21 M6 14 V6 H18 V14",
  peeling: "M4 20 V4 H20 M20 4 L12 4 L20 12 Z",
  worms: "M4 8 q3 5 6 0 t6 2 M8 18 q3 -5 6 0 t6 -3",
  scratches: "M4 20 L12 4 M10 20 L18 4 M16 20 L21 10",
  score: "M2 12 H22 M18 8 L22 12 L18 16",
  border_line: "M3 6 H21 V18 H3 Z M3 12 H21",
  burnt: "M12 2 V9 M12 15 V22 M2 12 H9 M15 12 H22 M5 5 L9 9 M15 15 L19 19 M19 5 L15 9 M9 15 L5 19",
  faded: "M12 3 a9 9 0 1 0 0.1 0 M8 9 v0.1 M15 8 v0.1 M10 15 v0.1 M16 14 v0.1",
  liner_mark: "M4 4 H20 M9 4 a3 4 0 0 0 6 0",
  foot_marks: "M4 16 a4 4 0 0 1 8 0 M12 16 a4 4 0 0 1 8 0 M3 20 H21",
  nick: "M2 8 H9 L12 16 L15 8 H22",
  late_bubble: "M12 5 a7 7 0 1 0 0.1 0 M9 9 a4 4 0 0 1 3 -1",
};

/** Drawn at a place of a drawing, its middle there. */
export function FlawMark({
  kind,
  x = 12,
  y = 12,
  size = 24,
  color,
  halo,
  width = 2.4,
}: {
  kind: string;
  x?: number;
  y?: number;
  size?: number;
  color: string;
  halo?: string;
  width?: number;
}) {
  const scale = size / 24;
  const move = `translate(${String(x - size / 2)} ${String(y - size / 2)}) scale(${String(scale)})`;
  const path = PATHS[kind] ?? PATHS.speck;
  return (
    <g transform={move} fill="none" strokeLinecap="round" strokeLinejoin="round" data-mark={kind}>
      {halo && <path d={path} stroke={halo} strokeWidth={width + 4} />}
      <path d={path} stroke={color} strokeWidth={width} />
    </g>
  );
}

/** A mark by itself, beside its words. */
export function MarkIcon({ kind, color, size = 26 }: { kind: string; color: string; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 24 24" aria-hidden="true" style={{ flexShrink: 0 }}>
      <FlawMark kind={kind} color={color} />
    </svg>
  );
}

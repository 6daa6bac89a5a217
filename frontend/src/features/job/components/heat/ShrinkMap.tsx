import { Box, useTheme } from "@mui/material";
import { useId } from "react";
import { textIn, useHeightBelow, useRoom } from "../../../../shared";
import type { ShrinkView } from "../../heat";
import { boxOf, labelPlaces, path } from "../../logic/heat";
import { CrossLine } from "./CrossLine";
import { BiteNumber, Finger, LetterH, Strip } from "./marks";

export type Showing = "map" | "order" | "pattern" | "strips";

/** The pane to scale on its flat film: what must go in percent, fingers, the H, and the line that is dragged. */
export function ShrinkMap({
  view,
  label,
  showing,
  above,
  lit,
  quarter,
  onLine,
}: {
  view: ShrinkView;
  label: string;
  showing: Showing;
  /** Height of what stands over the drawing. */
  above: number;
  /** The bite that is next, if one is. */
  lit?: number | undefined;
  /** The quarter of the film that alone is shown, large. */
  quarter?: string | undefined;
  /** The line is tried at another height or lean. */
  onLine?: (height: number, slope: number) => void;
}) {
  const { inks } = useTheme();
  const [room, shown] = useRoom<HTMLDivElement>(760);
  const high = useHeightBelow(above, 230, 560);
  const hatch = useId();
  const alone = view.bites.filter((bite) => bite.quarter === quarter).map((bite) => bite.ring);
  const box = alone.length
    ? boxOf(alone, 40)
    : boxOf([view.outline, view.cut_line, ...(showing === "pattern" ? [view.projected_outline] : [])], 34);
  const scale = Math.min(shown / box.width, high / box.height);
  const text = textIn(box.width, box.width * scale);
  const words = text(15);
  const turned = view.anchor.turned;
  const drawn = (points: number[][], closed = false) => path(points, box, closed);
  const at = (x: number, y: number) => ({ x: x - box.x, y: box.y + box.height - y });
  const most = Math.max(...view.contours.map((one) => Math.abs(one.percent)), 1e-9);
  return (
    <Box
      ref={room}
      sx={{ width: "100%", "& .shrink-map :is(path, line, circle)": { vectorEffect: "non-scaling-stroke" } }}
    >
      <svg
        viewBox={`0 0 ${box.width} ${box.height}`}
        width={box.width * scale}
        height={box.height * scale}
        role="group"
        className="shrink-map"
        aria-label={`${label}: ${view.sentence}`}
        style={{ display: "block", margin: "0 auto", touchAction: "none", maxWidth: "100%" }}
      >
        <defs>
          <pattern
            id={hatch}
            width={14}
            height={14}
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <line x1={0} y1={0} x2={0} y2={14} stroke={inks.rule} strokeWidth={2} />
          </pattern>
        </defs>
        <path
          d={drawn(view.cut_line, true)}
          fill={inks.sheet}
          stroke={inks.shade}
          strokeWidth={2.2}
          strokeDasharray="10 6"
        />
        <path
          d={drawn(view.outline, true)}
          fill="none"
          stroke={inks.ink}
          strokeWidth={3}
          strokeDasharray={view.measured ? undefined : "4 6"}
        />
        {showing === "pattern" && (
          <path
            d={drawn(view.projected_outline, true)}
            fill="none"
            stroke={inks.bad}
            strokeWidth={2.4}
            strokeDasharray="3 5"
          />
        )}
        {showing === "strips" &&
          view.strips.map((strip) => (
            <Strip key={strip.number} strip={strip} d={drawn(strip.ring, true)} at={at} size={text(22)} />
          ))}
        {showing === "map" &&
          view.contours.map((contour) =>
            contour.lines.map((line, i) => (
              <path
                key={`${contour.percent} ${i}`}
                d={drawn(line)}
                fill="none"
                stroke={contour.is_limit ? inks.bad : contour.percent < 0 ? inks.good : inks.sun}
                strokeOpacity={contour.is_limit ? 1 : 0.35 + (0.65 * Math.abs(contour.percent)) / most}
                strokeWidth={contour.is_limit ? 6 : 1.5 + (3 * Math.abs(contour.percent)) / most}
              />
            )),
          )}
        {showing === "map" &&
          view.fingers.map((finger, i) => <Finger key={i} line={finger.line} at={at} ink={inks.shade} />)}
        {showing === "order" &&
          view.bites.map((bite) => (
            <g key={bite.number}>
              <path
                d={drawn(bite.ring, true)}
                fill={
                  bite.number === lit
                    ? inks.sun
                    : lit !== undefined && bite.number < lit
                      ? `url(#${hatch})`
                      : "none"
                }
                fillOpacity={bite.number === lit ? 0.35 : 1}
                stroke={inks.soft}
                strokeWidth={1.5}
              />
              <BiteNumber bite={bite} size={text(22)} at={at} ink={inks.ink} paper={inks.paper} />
            </g>
          ))}
        {showing !== "strips" && <LetterH view={view} drawn={drawn} ink={inks.ink} />}
        {showing === "map" &&
          labelPlaces(view.contours, words * 4).map((one) => {
            const place = at(one.at[0] ?? 0, one.at[1] ?? 0);
            return (
              <text
                key={`${place.x} ${place.y}`}
                {...place}
                fontSize={words}
                fontWeight={700}
                textAnchor="middle"
                dominantBaseline="central"
                fill={one.isLimit ? inks.bad : inks.ink}
                stroke={inks.sheet}
                strokeWidth={words / 2}
                paintOrder="stroke"
              >
                {one.isLimit ? `limit ${one.words}` : one.words}
              </text>
            );
          })}
        {onLine && (
          <CrossLine
            key={turned ? "up" : "across"}
            view={view}
            box={box}
            scale={scale}
            words={text(17)}
            onLine={onLine}
          />
        )}
      </svg>
    </Box>
  );
}

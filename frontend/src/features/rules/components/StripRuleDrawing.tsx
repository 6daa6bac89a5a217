import { Box, Typography, useTheme } from "@mui/material";
import type { Schemas } from "../../../api/client";

type StripRule = Schemas["StripRuleOut"];

const W = 560;
const H = 210;
/** A made-up windshield, 57 in wide at the foot and 31 in high, for drawing rules on. */
const GLASS = "M28 196 L72 34 Q280 6 488 34 L532 196 Q280 208 28 196 Z";
const PX_PER_INCH = 6;
const TOP = 20;
/** Where such a line commonly lies on this made-up glass; the real one is read off the car. */
const LINE_INCHES = 5.5;

/** The strip rule of one class, drawn on a windshield of our own. */
export function StripRuleDrawing({ rule }: { rule: StripRule }) {
  const { inks } = useTheme();
  const id = `glass-${rule.vehicle_class}`;
  const byLine = ["as1", "longer", "shorter", "as1_else_inches", "as1_or_inches"].includes(rule.rule);
  const byInches = rule.inches !== null && rule.rule !== "as1" && rule.rule !== "seat_height";
  const inches = rule.inches ?? 0;
  const depth =
    rule.rule === "longer"
      ? Math.max(LINE_INCHES, inches)
      : rule.rule === "shorter" || rule.rule === "as1_or_inches"
        ? Math.min(LINE_INCHES, inches)
        : rule.rule === "inches"
          ? inches
          : rule.rule === "as1" || rule.rule === "as1_else_inches"
            ? LINE_INCHES
            : 0;
  const y = TOP + depth * PX_PER_INCH;
  return (
    <Box component="figure" sx={{ m: 0 }}>
      <svg
        viewBox={`0 0 ${String(W)} ${String(H)}`}
        role="img"
        aria-label={`Windshield, ${rule.vehicle_class}: strip down to ${rule.words}; in it ${rule.strip_vlt}, below it ${rule.below_strip}`}
        style={{ width: "100%", maxWidth: 560, display: "block" }}
      >
        <clipPath id={id}>
          <path d={GLASS} />
        </clipPath>
        <path d={GLASS} fill={inks.sheet} stroke={inks.ink} strokeWidth={2.5} />
        {depth > 0 && (
          <rect
            x={0}
            y={0}
            width={W}
            height={y}
            fill={inks.shade}
            fillOpacity={0.5}
            clipPath={`url(#${id})`}
          />
        )}
        {byLine && (
          <>
            <path
              d={`M60 ${String(TOP + LINE_INCHES * PX_PER_INCH)} h38 M462 ${String(TOP + LINE_INCHES * PX_PER_INCH)} h38`}
              stroke={inks.sun}
              strokeWidth={3}
            />
            <text
              x={504}
              y={TOP + LINE_INCHES * PX_PER_INCH + 5}
              fontSize="14"
              fontWeight="700"
              fill={inks.ink}
            >
              AS-1
            </text>
          </>
        )}
        {byInches && (
          <>
            <path
              d={`M280 ${String(TOP)} V${String(TOP + inches * PX_PER_INCH)} M270 ${String(TOP + inches * PX_PER_INCH)} h20 M270 ${String(TOP)} h20`}
              stroke={inks.sun}
              strokeWidth={3}
            />
            <text
              x={294}
              y={TOP + inches * PX_PER_INCH + 20}
              fontSize="17"
              fontWeight="700"
              fill={inks.ink}
              stroke={inks.sheet}
              strokeWidth="4"
              paintOrder="stroke"
            >
              {inches} in
            </text>
          </>
        )}
        <text x={280} y={150} textAnchor="middle" fontSize="20" fontWeight="700" fill={inks.ink}>
          below: {rule.below_strip}
        </text>
        {depth > 0 && (
          <text
            x={180}
            y={TOP + 20}
            textAnchor="middle"
            fontSize="16"
            fontWeight="700"
            fill={inks.ink}
            stroke={inks.sheet}
            strokeWidth="4"
            paintOrder="stroke"
          >
            strip: {rule.strip_vlt}
          </text>
        )}
      </svg>
      <Typography component="figcaption">
        <b>{rule.vehicle_class === "passenger" ? "Passenger car" : "Multipurpose"}</b>: down to {rule.words}.
      </Typography>
    </Box>
  );
}

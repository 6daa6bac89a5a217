import { Box, useTheme } from "@mui/material";
import type { Verdict } from "../../api/client";

export type Word = Verdict["word"];

/** Word and mark, never colour alone. The mark is a pane: how much of it is shut says how bad. */
export function VerdictMark({ word, size = 18 }: { word: Word | null; size?: number }) {
  const { inks } = useTheme();
  if (word === null)
    return (
      <Box component="span" sx={{ color: "text.secondary" }}>
        No film
      </Box>
    );
  return (
    <Box
      component="span"
      sx={{
        display: "inline-flex",
        alignItems: "center",
        gap: 0.75,
        color: inkOf(word, inks),
        fontWeight: 700,
        whiteSpace: "nowrap",
      }}
    >
      <VerdictGlyph word={word} size={size} />
      {word}
    </Box>
  );
}

/** The mark alone, where its word stands elsewhere. */
export function VerdictGlyph({ word, size = 18 }: { word: Word; size?: number }) {
  const { inks } = useTheme();
  return (
    <svg width={size * 1.3} height={size} viewBox="0 0 26 20" aria-hidden="true">
      <Mark word={word} color={inkOf(word, inks)} />
    </svg>
  );
}

function inkOf(word: Word, inks: { bad: string; good: string; ink: string }): string {
  return toneOf(word) === "bad" ? inks.bad : toneOf(word) === "good" ? inks.good : inks.ink;
}

export function toneOf(word: Word | null): "good" | "bad" | "open" {
  if (word === "Clears") return "good";
  return word === "Too dark" || word === "Not allowed" || word === "Within tolerance" ? "bad" : "open";
}

const PANE = "M2 18 6 3h16l2 15z";

function Mark({ word, color }: { word: Word; color: string }) {
  const stroke = { stroke: color, strokeWidth: 2, fill: "none", strokeLinejoin: "round" } as const;
  switch (word) {
    case "Clears":
      return <path d={PANE} {...stroke} />;
    case "Close":
      return (
        <>
          <path d={PANE} {...stroke} />
          <path d="M2 18 4 10.5h19l1 7.5z" fill={color} />
        </>
      );
    case "Within tolerance":
      return (
        <>
          <path d={PANE} {...stroke} />
          <path d="M2 18 6 3h16l2 15z" fill={color} fillOpacity={0.45} />
          <path d="M8 10.5h10" {...stroke} />
        </>
      );
    case "Too dark":
      return <path d={PANE} {...stroke} fill={color} />;
    case "Not allowed":
      return (
        <>
          <path d={PANE} {...stroke} />
          <path d="M3 3 23 18M23 3 3 18" {...stroke} />
        </>
      );
    case "Cannot tell":
      return (
        <>
          <path d={PANE} {...stroke} strokeDasharray="4 3" />
          <text x="13" y="15.5" textAnchor="middle" fontSize="13" fontWeight="700" fill={color}>
            ?
          </text>
        </>
      );
    default:
      return <path d={PANE} {...stroke} strokeDasharray="2 3" />;
  }
}

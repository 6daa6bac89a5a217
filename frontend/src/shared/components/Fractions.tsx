import { Fragment } from "react";

const FRACTION = { fontFeatureSettings: '"frac"' };

/** Text with its tape fractions set as real ones: 39 3/8 reads as on the tape. */
export function Fractions({ text, svg }: { text: string; svg?: boolean }) {
  return text.split(/(\d+\/\d+)/).map((part, i) => {
    if (i % 2 === 0) return <Fragment key={i}>{part}</Fragment>;
    return svg ? (
      <tspan key={i} style={FRACTION}>
        {part}
      </tspan>
    ) : (
      <span key={i} style={FRACTION}>
        {part}
      </span>
    );
  });
}

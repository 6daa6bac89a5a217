import { Typography } from "@mui/material";
import { Ruled, showLength, useSettings } from "../../../../shared";
import type { ShrinkView } from "../../heat";

/** The flat pattern beside what a picture of the pane, or its drawing laid out, would have given. */
export function PatternCompare({ view }: { view: ShrinkView }) {
  const { unit } = useSettings();
  const length = (mm: number) => showLength(mm, unit);
  const { projection, developed } = view;
  if (!projection || !developed)
    return <Typography>Called flat: the pattern is the drawing of the pane itself.</Typography>;
  const by = (mm: number, more: string, less: string) => `${length(Math.abs(mm))} ${mm >= 0 ? more : less}`;
  return (
    <Ruled title="True pattern against the drawings">
      <Typography sx={{ mt: 0.5 }}>
        Seen square on (dotted), the pane is up to <b>{length(projection.largest_mm)}</b> off its true
        pattern: {by(projection.wider_mm, "wider", "narrower")},{" "}
        {by(projection.taller_mm, "taller", "shorter")}.
      </Typography>
      <Typography sx={{ mt: 0.5 }}>
        Laid out circle by circle it is up to <b>{length(developed.largest_mm)}</b> off:{" "}
        {by(developed.wider_mm, "wider", "narrower")}, {by(developed.taller_mm, "taller", "shorter")}.
      </Typography>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
        The flat piece has {Math.round(view.spare_mm2 / 645.16)} sq in more than the glass: that is what heat
        takes out.
      </Typography>
    </Ruled>
  );
}

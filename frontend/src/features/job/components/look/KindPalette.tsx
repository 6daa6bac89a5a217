import { Box, useTheme } from "@mui/material";
import type { CarLook } from "../../look";
import { MarkIcon } from "./marks";

/** What is put with the next touch: each kind by its own mark and words. */
export function KindPalette({
  car,
  kind,
  onKind,
}: {
  car: CarLook;
  kind: string;
  onKind: (kind: string) => void;
}) {
  const { inks } = useTheme();
  return (
    <Box
      role="radiogroup"
      aria-label="What is put with the next touch"
      sx={{
        display: "grid",
        gridTemplateColumns: "repeat(auto-fill, minmax(88px, 1fr))",
        gap: 0.5,
        mt: 0.75,
      }}
    >
      {car.kinds.map((one) => {
        const here = one.id === kind;
        return (
          <Box
            key={one.id}
            component="button"
            type="button"
            role="radio"
            aria-checked={here}
            title={one.words}
            onClick={() => onKind(one.id)}
            sx={{
              font: "inherit",
              fontSize: { xs: 15, md: 12.5 },
              lineHeight: 1.1,
              textAlign: "left",
              display: "flex",
              alignItems: "center",
              gap: 0.5,
              minHeight: { xs: 48, md: 34 },
              px: 0.5,
              cursor: "pointer",
              color: here ? inks.paper : inks.ink,
              bgcolor: here ? inks.ink : inks.sheet,
              border: `1px solid ${here ? inks.ink : inks.rule}`,
            }}
          >
            <MarkIcon kind={one.id} color={here ? inks.paper : inks.ink} size={22} />
            {one.short}
          </Box>
        );
      })}
    </Box>
  );
}

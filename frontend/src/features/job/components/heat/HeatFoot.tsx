import { Box, Button, Typography } from "@mui/material";
import type { JobWindow } from "../../../../api/client";
import { Row, Ruled } from "../../../../shared";
import type { ShrinkView } from "../../heat";

export function Cautions({ cautions, temperature }: { cautions: string[]; temperature: string }) {
  return (
    <Ruled title="Mind">
      {cautions.map((one) => (
        <Typography key={one} sx={{ mt: 0.5 }}>
          {one}
        </Typography>
      ))}
      <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
        {temperature}
      </Typography>
    </Ruled>
  );
}

/** Every film on file on this glass, as it lies now. */
export function OnOtherFilms({ view }: { view: ShrinkView }) {
  return (
    <Ruled title="On this glass, film by film">
      {view.films.map((film) => (
        <Box key={film.film_id} sx={{ display: "flex", gap: 1, justifyContent: "space-between", py: 0.25 }}>
          <Typography variant="body2">
            {film.name}
            {!film.stocked && " (none on the rack)"}
          </Typography>
          <Typography
            variant="body2"
            sx={{
              fontWeight: 700,
              whiteSpace: "nowrap",
              color: film.word === "will not shrink" ? "error.main" : undefined,
            }}
          >
            takes {film.limit_percent} %: {film.word}
          </Typography>
        </Box>
      ))}
    </Ruled>
  );
}

export function Papers({ window, view }: { window: JobWindow; view: ShrinkView }) {
  const at = `/api/windows/${window.id}`;
  const part = view.part ? `?part=${view.part}` : "";
  return (
    <Ruled title="Papers and files">
      <Row>
        <Button component="a" href={`${at}/wall-sheet.pdf${part}`} target="_blank">
          Wall sheet, PDF
        </Button>
        <Button component="a" href={`${at}/pattern.svg${part}`}>
          {view.flat ? "Pattern" : "True pattern"}, SVG
        </Button>
        <Button component="a" href={`${at}/pattern.dxf${part}`}>
          {view.flat ? "Pattern" : "True pattern"}, DXF
        </Button>
      </Row>
    </Ruled>
  );
}

import { Box, Button, Checkbox, FormControlLabel, IconButton, MenuItem, TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Problem } from "../../api/unwrap";
import { Answer, BladeCaution, CutBoard, ErrorNote, parseLength, Pending, Ruled, TapeField } from "../../shared";
import { filmListQuery, quickSolveQuery, useQuickCut } from "./api";

interface Piece {
  key: number;
  width: string;
  height: string;
  count: number;
  curved: boolean;
}

const KEPT = "elumbra.quick";
const blank = (key: number): Piece => ({ key, width: "", height: "", count: 1, curved: false });

/** No job, no customer: type sizes, see which roll, which way round, how long. */
export function QuickPage() {
  const films = useQuery(filmListQuery());
  const quick = useQuickCut();
  const [pieces, setPieces] = useState<Piece[]>(() => (JSON.parse(sessionStorage.getItem(KEPT) ?? "null") as Piece[] | null) ?? [blank(1)]);
  const [film, setFilm] = useState("");
  const [trimmed, setTrimmed] = useState(true);
  const solve = useQuery(quickSolveQuery(quick.data?.id));
  const { mutate } = quick;
  const ready = pieces.filter((piece) => parseLength(piece.width).ok && parseLength(piece.height).ok);
  const asked = JSON.stringify({ ready, film, trimmed });
  useEffect(() => {
    sessionStorage.setItem(KEPT, JSON.stringify(pieces));
  }, [pieces]);
  useEffect(() => {
    const input = JSON.parse(asked) as { ready: Piece[]; film: string; trimmed: boolean };
    if (input.ready.length === 0) return;
    mutate({
      film_id: input.film || null,
      trimmed: input.trimmed,
      pieces: input.ready.map(({ width, height, count, curved }) => ({ width, height, count, curved })),
    });
  }, [asked, mutate]);
  if (films.isPending) return <Pending what="the films" />;
  if (films.isError) return <ErrorNote error={films.error} again={() => void films.refetch()} />;
  const change = (key: number, over: Partial<Piece>) => { setPieces((all) => all.map((piece) => (piece.key === key ? { ...piece, ...over } : piece))); };
  const problem = quick.error instanceof Problem ? quick.error : null;
  const plan = ready.length ? solve.data?.plan?.films[0] : undefined;
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(360px, 2fr) 5fr" }, gap: 4 }}>
      <Box>
        <Ruled title="Quick cut">
          <Box sx={{ display: "grid", gap: 1.5, mt: 1.5 }}>
            {pieces.map((piece, i) => (
              <Box key={piece.key} sx={{ display: "grid", gridTemplateColumns: "1fr 1fr 76px 44px", gap: 1, alignItems: "start" }}>
                <TapeField label="Width" draftKey={`quick.${String(piece.key)}.width`} saved={piece.width} autoFocus={i === 0} refused={problem?.fields[`pieces.${String(i)}.width`]} onCommit={(typed) => { change(piece.key, { width: typed ?? "" }); }} />
                <TapeField label="Height" draftKey={`quick.${String(piece.key)}.height`} saved={piece.height} refused={problem?.fields[`pieces.${String(i)}.height`]} onCommit={(typed) => { change(piece.key, { height: typed ?? "" }); }} />
                <TextField select label="Count" value={piece.count} onChange={(event) => { change(piece.key, { count: Number(event.target.value) }); }}>
                  {[1, 2, 3, 4, 6, 8].map((count) => <MenuItem key={count} value={count}>{count}</MenuItem>)}
                </TextField>
                <IconButton aria-label={`Take piece ${String(i + 1)} out`} disabled={pieces.length === 1} onClick={() => { setPieces((all) => all.filter((other) => other.key !== piece.key)); }}>×</IconButton>
                <FormControlLabel sx={{ gridColumn: "1 / -1", mt: -1 }} control={<Checkbox checked={piece.curved} onChange={(_, curved) => { change(piece.key, { curved }); }} />} label="Curved both ways: film must run across it" />
              </Box>
            ))}
            <Button onClick={() => { setPieces((all) => [...all, blank(Math.max(...all.map((piece) => piece.key)) + 1)]); }}>Another piece</Button>
            <TextField select label="Film" value={film} onChange={(event) => { setFilm(event.target.value); }} slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}>
              <MenuItem value="">any: which width to pull</MenuItem>
              {films.data.films.map((one) => <MenuItem key={one.id} value={one.id}>{one.name}{one.stocked_mm > 0 ? "" : " (not on the rack)"}</MenuItem>)}
            </TextField>
            <FormControlLabel control={<Checkbox checked={trimmed} onChange={(_, value) => { setTrimmed(value); }} />} label="Visible sizes: add the play of a hand-cut blank" />
          </Box>
        </Ruled>
        <BladeCaution />
      </Box>
      <Box>
        {problem && <ErrorNote error={problem} />}
        {!plan && !problem && <Answer why="Each size needs a width and a height. The layout comes as you type.">{ready.length ? "Laying out …" : "Type a size"}</Answer>}
        {plan && <CutBoard plan={plan} />}
      </Box>
    </Box>
  );
}

import { Box, Button, IconButton } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useEffectEvent, useState } from "react";
import { rackQuery, taskQuery } from "../../api/queries";
import { Problem } from "../../api/unwrap";
import {
  Answer,
  BladeCaution,
  Choice,
  CutBoard,
  ErrorNote,
  FieldGrid,
  focusWhenShown,
  hasFields,
  isBoolean,
  isCount,
  isListOf,
  isText,
  keepStored,
  parseLength,
  Pending,
  PickOne,
  readStored,
  Ruled,
  TapeField,
  Tick,
  TwoColumns,
} from "../../shared";
import { useQuickCut } from "./api";

interface Piece {
  key: number;
  width: string;
  height: string;
  count: number;
  curved: boolean;
}

const KEPT = "elumbra.quick";
/** What is sold for home use. */
const HOME_SHEET = { width: "24 in", length: "6.5 ft" };
const COUNTS: Record<string, string> = { 1: "1", 2: "2", 3: "3", 4: "4", 6: "6", 8: "8" };
const blank = (key: number): Piece => ({ key, width: "", height: "", count: 1, curved: false });
const isPiece = hasFields<Piece>({
  key: isCount,
  width: isText,
  height: isText,
  count: isCount,
  curved: isBoolean,
});

function keptPieces(): Piece[] {
  const kept = readStored(sessionStorage, KEPT, isListOf(isPiece), []);
  return kept.length ? kept : [blank(1)];
}

/** No job, no customer: type sizes, see which roll, which way round, how long. */
export function QuickPage() {
  const films = useQuery(rackQuery());
  const quick = useQuickCut();
  const [pieces, setPieces] = useState(keptPieces);
  const [film, setFilm] = useState<string | null>(null);
  const [trimmed, setTrimmed] = useState(true);
  const [onSheet, setOnSheet] = useState(false);
  const [sheet, setSheet] = useState(HOME_SHEET);
  const sheetReady = parseLength(sheet.width).ok && parseLength(sheet.length).ok;
  const task = useQuery(taskQuery(quick.data?.id));
  const ready = pieces.filter((piece) => parseLength(piece.width).ok && parseLength(piece.height).ok);
  const ask = useEffectEvent(() => {
    if (ready.length === 0) return;
    const sizes = ready.map(({ width, height, count, curved }) => ({ width, height, count, curved }));
    if (onSheet && !sheetReady) return;
    quick.write({ film_id: film, trimmed, pieces: sizes, sheet: onSheet ? sheet : null });
  });
  const asked = JSON.stringify({ ready, film, trimmed, onSheet, sheet });
  useEffect(() => {
    keepStored(sessionStorage, KEPT, pieces);
  }, [pieces]);
  useEffect(() => {
    ask();
  }, [asked]);
  if (films.isPending) return <Pending what="the films" />;
  if (films.isError) return <ErrorNote error={films.error} again={() => void films.refetch()} />;
  const change = (key: number, over: Partial<Piece>) =>
    setPieces((all) => all.map((piece) => (piece.key === key ? { ...piece, ...over } : piece)));
  const remove = (key: number) => setPieces((all) => all.filter((other) => other.key !== key));
  const another = () => setPieces((all) => [...all, blank(Math.max(...all.map((piece) => piece.key)) + 1)]);
  const problem = quick.error instanceof Problem ? quick.error : null;
  const failed = ready.length > 0 && task.data?.status === "failed" ? task.data.error : null;
  const plan = ready.length ? task.data?.plan?.films[0] : undefined;
  return (
    <TwoColumns shares="2fr 5fr">
      <div>
        <Ruled title="Quick cut">
          <FieldGrid columns={1}>
            {pieces.map((piece, i) => (
              <PieceFields
                key={piece.key}
                piece={piece}
                first={i === 0}
                only={pieces.length === 1}
                name={`Take piece ${i + 1} out`}
                refused={(size) => problem?.fields[`pieces.${i}.${size}`]}
                onChange={(over) => change(piece.key, over)}
                onRemove={() => remove(piece.key)}
              />
            ))}
            <Button onClick={another}>Another piece</Button>
            <PickOne
              label="Film"
              value={film}
              none="any: which width to pull"
              options={films.data.films.map(
                (one) => [one.id, `${one.name}${one.stocked_mm > 0 ? "" : " (not on the rack)"}`] as const,
              )}
              onChange={setFilm}
            />
            <Tick label="From one bought sheet" value={onSheet} onChange={setOnSheet} />
            {onSheet && (
              <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1 }}>
                {(["width", "length"] as const).map((size) => (
                  <TapeField
                    key={size}
                    label={size === "width" ? "Sheet, width" : "Sheet, length"}
                    draftKey={`quick.sheet.${size}`}
                    saved={sheet[size]}
                    refused={problem?.fields[`sheet.${size}`]}
                    onCommit={(typed) => setSheet((before) => ({ ...before, [size]: typed ?? "" }))}
                  />
                ))}
              </Box>
            )}
            <Tick
              label="Visible sizes: add the play of a hand-cut blank"
              value={trimmed}
              onChange={setTrimmed}
            />
          </FieldGrid>
        </Ruled>
        <BladeCaution />
      </div>
      <div>
        {problem && <ErrorNote error={problem} />}
        {failed && <ErrorNote error={failed} />}
        {!plan && !problem && !failed && (
          <Answer why="Each size needs a width and a height. The layout comes as you type.">
            {ready.length ? "Laying out …" : "Type a size"}
          </Answer>
        )}
        {plan && <CutBoard plan={plan} />}
      </div>
    </TwoColumns>
  );
}

interface PieceProps {
  piece: Piece;
  first: boolean;
  only: boolean;
  name: string;
  refused: (size: "width" | "height") => string | undefined;
  onChange: (over: Partial<Piece>) => void;
  onRemove: () => void;
}

function PieceFields({ piece, first, only, name, refused, onChange, onRemove }: PieceProps) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr 76px 44px", gap: 1, alignItems: "start" }}>
      {(["width", "height"] as const).map((size) => (
        <TapeField
          key={size}
          label={size === "width" ? "Width" : "Height"}
          draftKey={`quick.${piece.key}.${size}`}
          saved={piece[size]}
          refused={refused(size)}
          {...(first && size === "width" ? { inputRef: focusWhenShown } : {})}
          onCommit={(typed) => onChange({ [size]: typed ?? "" })}
        />
      ))}
      <Choice
        label="Count"
        value={String(piece.count)}
        options={COUNTS}
        onChange={(count) => onChange({ count: Number(count) })}
      />
      <IconButton aria-label={name} disabled={only} onClick={onRemove}>
        ×
      </IconButton>
      <Box sx={{ gridColumn: "1 / -1", mt: -1 }}>
        <Tick
          label="Curved both ways: film must run across it"
          value={piece.curved}
          onChange={(curved) => onChange({ curved })}
        />
      </Box>
    </Box>
  );
}

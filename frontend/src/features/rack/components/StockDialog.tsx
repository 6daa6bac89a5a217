import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from "@mui/material";
import { useState } from "react";
import type { Rack, Schemas } from "../../../api/client";
import { Problem } from "../../../api/unwrap";
import { WORDS } from "../../../api/words";
import { Choice, ErrorNote, FieldGrid, TextLine } from "../../../shared";
import { useSaveStock } from "../api";

type StockItem = Rack["stock"][number];
type StockFields = Schemas["StockFields"];

const EMPTY: StockFields = {
  film_id: "",
  kind: "roll",
  label: "",
  width: "",
  full_length: "100'",
  length_left: "100'",
  price: 0,
  lot: "",
  liner: "up",
};

function startingFields(rack: Rack, item: StockItem | null): StockFields {
  if (!item) return { ...EMPTY, film_id: rack.films[0]?.id ?? "" };
  const { film_id, kind, label, width, full_length, length_left, price, lot, liner } = item;
  return { film_id, kind, label, width, full_length, length_left, price, lot, liner };
}

/** A roll, offcut or sheet, new or changed. */
export function StockDialog({
  rack,
  item,
  onClose,
}: {
  rack: Rack;
  item: StockItem | null;
  onClose: () => void;
}) {
  const save = useSaveStock();
  const [body, setBody] = useState(() => startingFields(rack, item));
  const fields = save.error instanceof Problem ? save.error.fields : {};
  const put = (over: Partial<StockFields>) => setBody((before) => ({ ...before, ...over }));
  const line = (
    name: "label" | "width" | "full_length" | "length_left" | "lot",
    label: string,
    hint?: string,
  ) => (
    <TextLine
      label={label}
      value={body[name] ?? ""}
      hint={hint}
      problem={fields[name]}
      onChange={(text) => put({ [name]: text })}
    />
  );
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="stock-title">
      <DialogTitle id="stock-title">{item ? `Change ${item.label}` : "Put film on the rack"}</DialogTitle>
      <DialogContent>
        {save.error && <ErrorNote error={save.error} />}
        <FieldGrid>
          <Choice
            label="Film"
            value={body.film_id}
            options={Object.fromEntries(rack.films.map((film) => [film.id, film.name]))}
            onChange={(film_id) => put({ film_id })}
          />
          <Choice
            label="Kind"
            value={body.kind}
            options={WORDS.StockKind}
            onChange={(kind) => put({ kind })}
          />
          {line("label", "Name on the rack")}
          {line("width", "Width", "across the roll")}
          {line("full_length", "Full length", "as bought, along the roll")}
          {line("length_left", "Length left", "along the roll")}
          <TextLine
            label="Price at full length, $"
            value={String(body.price)}
            problem={fields["price"]}
            inputMode="decimal"
            onChange={(text) => put({ price: Number(text) || 0 })}
          />
          {line("lot", "Lot")}
          <Choice
            label="As it lies"
            value={body.liner ?? "unknown"}
            options={WORDS.LinerSide}
            onChange={(liner) => put({ liner })}
          />
        </FieldGrid>
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Cancel
        </Button>
        <Button
          variant="contained"
          color="secondary"
          disabled={save.pending}
          onClick={() => save.write({ known: item, body }, { onSuccess: onClose })}
        >
          Save
        </Button>
      </DialogActions>
    </Dialog>
  );
}

import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from "@mui/material";
import { useState } from "react";
import type { Rack, Schemas } from "../../../api/client";
import { Problem } from "../../../api/unwrap";
import { WORDS } from "../../../api/words";
import {
  Choice,
  DayField,
  ErrorNote,
  FieldGrid,
  TextLine,
  Tick,
  useHome,
  useSeesPrices,
  useSettings,
  withUnit,
} from "../../../shared";
import { useSaveStock } from "../api";

type StockItem = Rack["stock"][number];
type StockFields = Schemas["StockNew"] & { reason?: string };

const EMPTY: StockFields = {
  film_id: "",
  kind: "roll",
  label: "",
  width: "",
  full_length: "100 ft",
  length_left: "100 ft",
};

/** What is customary for each kind, until something else is typed. */
const CUSTOMARY: Record<StockFields["kind"], Partial<StockFields>> = {
  roll: { full_length: "100 ft", length_left: "100 ft" },
  sheet: { width: "24 in", full_length: "6.5 ft", length_left: "6.5 ft" },
  offcut: { full_length: "", length_left: "" },
};

/** What the rack must be told each time; a fact that nobody touched is not sent, and stays as it is. */
function mustBeTold({ film_id, kind, label, width, full_length, length_left }: StockFields) {
  return { film_id, kind, label, width, full_length, length_left };
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
  const home = useHome();
  const prices = useSeesPrices();
  const save = useSaveStock();
  const before = item ?? { ...EMPTY, film_id: rack.films[0]?.id ?? "" };
  const [told, setTold] = useState<Partial<StockFields>>({});
  const body: StockFields = { ...before, ...told };
  const fields = save.error instanceof Problem ? save.error.fields : {};
  const put = (over: Partial<StockFields>) => setTold((all) => ({ ...all, ...over }));
  const [price, setPrice] = useState(item?.price == null ? "" : String(item.price));
  const { unit } = useSettings();
  const asked = save.error instanceof Problem && save.error.code === "ask_again";
  const submit = (sure: boolean) => {
    const sizes = {
      width: withUnit(body.width, unit),
      full_length: withUnit(body.full_length, unit, body.kind === "offcut" ? "size" : "roll"),
      length_left: withUnit(body.length_left, unit, body.kind === "offcut" ? "size" : "roll"),
    };
    save.write(
      {
        known: item,
        body: {
          ...mustBeTold(body),
          ...told,
          ...sizes,
          price: prices ? Number(price) || 0 : null,
          sure,
        },
      },
      { onSuccess: onClose },
    );
  };
  const bare = body.kind === "offcut" ? unit : unit === "in" ? "feet" : "metres";
  const line = (
    name: "label" | "width" | "full_length" | "length_left" | "lot" | "place" | "reason",
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
            onChange={(kind) => put({ kind, ...(item ? {} : CUSTOMARY[kind]) })}
          />
          {line("label", "Name on the rack")}
          {line("width", "Width", `across the roll; a bare number is ${unit}`)}
          {line("full_length", "Full length", `as bought, along the roll; a bare number is ${bare}`)}
          {line("length_left", "Length left", "along the roll")}
          {item &&
            body.length_left !== item.length_left &&
            line("reason", "Why it is corrected", "counted, torn, misread …")}
          {prices && (
            <TextLine
              label="Price at full length, $"
              value={price}
              problem={Number.isNaN(Number(price)) ? "A number, such as 180" : fields["price"]}
              inputMode="decimal"
              onChange={setPrice}
            />
          )}
          {!home && line("lot", "Lot")}
          <Choice
            label="As it lies"
            value={body.liner ?? "unknown"}
            options={WORDS.LinerSide}
            onChange={(liner) => put({ liner })}
          />
          {line("place", "Place on the rack")}
          <DayField
            label="Received"
            value={body.received_on ?? null}
            onChange={(received_on) => put({ received_on })}
          />
          <DayField
            label="Opened"
            value={body.opened_on ?? null}
            onChange={(opened_on) => put({ opened_on })}
          />
          {body.kind === "roll" && (
            <Tick
              label="May be slit"
              value={body.slittable ?? true}
              onChange={(slittable) => put({ slittable })}
            />
          )}
        </FieldGrid>
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Cancel
        </Button>
        <Button
          variant="contained"
          color="secondary"
          disabled={save.pending || Number.isNaN(Number(price))}
          onClick={() => submit(asked)}
        >
          {asked ? "Yes, save it so" : "Save"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

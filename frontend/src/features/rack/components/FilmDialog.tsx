import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from "@mui/material";
import { useState } from "react";
import type { Rack, Schemas } from "../../../api/client";
import { Problem } from "../../../api/unwrap";
import { WORDS } from "../../../api/words";
import {
  Choice,
  ErrorNote,
  FieldGrid,
  focusWhenShown,
  Several,
  TextLine,
  useSeesPrices,
  YesNo,
} from "../../../shared";
import { useSaveFilm } from "../api";

type FilmItem = Rack["films"][number];
type FilmFields = Schemas["FilmFields"];

const FIGURES = [
  ["vlt_percent", "VLT, %", "visible light"],
  ["reflectance_percent", "Visible reflectance, %", "outward side"],
  ["reflectance_inside_percent", "Reflectance inward, %", "empty: as outward"],
  ["uv_rejection_percent", "Ultraviolet rejected, %", "empty: not in the data"],
  ["solar_transmittance_percent", "Solar transmittance, %", "empty: not in the data"],
  ["solar_reflectance_percent", "Solar reflectance, %", "empty: not in the data"],
  ["shrink_limit_percent", "Shrink limit, %", "empty: our starting value"],
] as const;
type FigureName = (typeof FIGURES)[number][0];
const YEARS = 7;

function startingFields(film: FilmItem | null): FilmFields {
  if (!film) return { name: "", construction: "dyed", vlt_percent: 0 };
  const { vlt_percent, name, construction, vlt_basis, colours, colour_words, mirror_finish } = film;
  const { warranty, warranty_years } = film;
  return {
    vlt_percent,
    name,
    construction,
    vlt_basis,
    colours,
    colour_words,
    mirror_finish,
    warranty,
    warranty_years,
  };
}

function startingTexts(film: FilmItem | null): Record<FigureName, string> {
  return Object.fromEntries(
    FIGURES.map(([name]) => [name, film?.[name] === null ? "" : String(film?.[name] ?? "")]),
  ) as Record<FigureName, string>;
}

/** A film's sheet, new or changed. */
export function FilmDialog({ film, onClose }: { film: FilmItem | null; onClose: () => void }) {
  const save = useSaveFilm();
  const [texts, setTexts] = useState(() => startingTexts(film));
  const [body, setBody] = useState(() => startingFields(film));
  const [price, setPrice] = useState(film?.price_per_m2 ? String(film.price_per_m2) : "");
  const prices = useSeesPrices();
  const fields = save.error instanceof Problem ? save.error.fields : {};
  const put = (over: Partial<FilmFields>) => setBody((before) => ({ ...before, ...over }));
  const wrong = (name: FigureName) => texts[name].trim() !== "" && Number.isNaN(Number(texts[name]));
  const wrongPrice = Number.isNaN(Number(price));
  const unfinished =
    !body.name.trim() || texts.vlt_percent.trim() === "" || FIGURES.some(([n]) => wrong(n)) || wrongPrice;
  const submit = () => {
    const figures = Object.fromEntries(
      FIGURES.map(([name]) => [name, texts[name].trim() === "" ? null : Number(texts[name])]),
    ) as Pick<FilmFields, FigureName>;
    const price_per_m2 = prices && price.trim() !== "" ? Number(price) : null;
    save.write({ known: film, body: { ...body, ...figures, price_per_m2 } }, { onSuccess: onClose });
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="film-title">
      <DialogTitle id="film-title">{film ? `Change ${film.name}` : "New film"}</DialogTitle>
      <DialogContent>
        {save.error && <ErrorNote error={save.error} />}
        <FieldGrid>
          <TextLine
            label="Name"
            value={body.name}
            problem={fields["name"]}
            inputRef={focusWhenShown}
            onChange={(name) => put({ name })}
          />
          <Choice
            label="Construction"
            value={body.construction}
            options={WORDS.Construction}
            onChange={(construction) => put({ construction })}
          />
          {FIGURES.map(([name, label, hint]) => (
            <TextLine
              key={name}
              label={label}
              value={texts[name]}
              hint={hint}
              problem={wrong(name) ? "A number, such as 35" : fields[name]}
              inputMode="decimal"
              onChange={(text) => setTexts((before) => ({ ...before, [name]: text }))}
            />
          ))}
          {prices && (
            <TextLine
              label="Price, $ per m²"
              value={price}
              hint="for rolls put up without a price"
              problem={wrongPrice ? "A number, such as 12.50" : fields["price_per_m2"]}
              inputMode="decimal"
              onChange={setPrice}
            />
          )}
          <Choice
            label="VLT measured"
            value={body.vlt_basis ?? "unknown"}
            options={WORDS.VltBasis}
            onChange={(vlt_basis) => put({ vlt_basis })}
          />
          <Choice
            label="Warranty"
            value={body.warranty ?? "unknown"}
            options={WORDS.Warranty}
            onChange={(warranty) =>
              put({ warranty, warranty_years: warranty === "years" ? (body.warranty_years ?? YEARS) : null })
            }
          />
          {body.warranty === "years" && (
            <TextLine
              label="Years"
              value={String(body.warranty_years ?? "")}
              problem={fields["warranty_years"]}
              inputMode="decimal"
              onChange={(text) => put({ warranty_years: text === "" ? null : Number(text) })}
            />
          )}
          <Several
            label="Colours to the eye"
            value={body.colours ?? []}
            options={WORDS.Colour}
            none="not said yet"
            onChange={(colours) => put({ colours })}
          />
          <TextLine
            label="Colour, as its sheet says"
            value={body.colour_words ?? ""}
            hint="some laws ban red, amber, gold …"
            problem={fields["colour_words"] ?? fields["colours"]}
            onChange={(colour_words) => put({ colour_words })}
          />
          <YesNo
            label="Metallic or mirrored to the eye"
            value={body.mirror_finish ?? null}
            unknown="nobody has looked yet"
            problem={fields["mirror_finish"]}
            onChange={(mirror_finish) => put({ mirror_finish })}
          />
        </FieldGrid>
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Cancel
        </Button>
        <Button variant="contained" color="secondary" disabled={save.pending || unfinished} onClick={submit}>
          Save
        </Button>
      </DialogActions>
    </Dialog>
  );
}

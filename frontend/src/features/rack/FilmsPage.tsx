import { Box, Button, Checkbox, Dialog, DialogActions, DialogContent, DialogTitle, FormControlLabel, MenuItem, Table, TableBody, TableCell, TableHead, TableRow, TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Rack, Schemas } from "../../api/client";
import { Problem } from "../../api/unwrap";
import { Answer, Empty, ErrorNote, Pending, showLength, useNotify, useSettings } from "../../shared";
import { rackQuery, useRemoveFilm, useSaveFilm } from "./api";

type FilmItem = Rack["films"][number];
type FilmFields = Schemas["FilmFields"];
type Share = "reflectance_inside_percent" | "uv_rejection_percent" | "vlt_percent" | "reflectance_percent" | "solar_transmittance_percent" | "solar_reflectance_percent" | "shrink_limit_percent";

const BASIS: Record<NonNullable<FilmFields["vlt_basis"]>, string> = { on_3mm_clear: "on 3 mm clear glass", film_alone: "film alone", unknown: "not stated" };
const WARRANTY: Record<NonNullable<FilmFields["warranty"]>, string> = { unknown: "not in the data", none: "none", years: "for some years", lifetime: "lifetime" };
const NOT_STATED = "not in the film's data";

/** Films on file, as their sheets describe them. */
export function FilmsPage() {
  const rack = useQuery(rackQuery());
  const { unit } = useSettings();
  const remove = useRemoveFilm();
  const notify = useNotify();
  const [edited, setEdited] = useState<FilmItem | "new" | null>(null);
  if (rack.isPending) return <Pending what="the films" />;
  if (rack.isError) return <ErrorNote error={rack.error} again={() => void rack.refetch()} />;
  const share = (value: number | null | undefined) => (value === null || value === undefined ? NOT_STATED : `${String(value)} %`);
  return (
    <>
      <Box sx={{ display: "flex", gap: 2, alignItems: "start" }}>
        <Box sx={{ flexGrow: 1 }}><Answer>{rack.data.films.length} films on file</Answer></Box>
        <Button variant="contained" color="secondary" onClick={() => { setEdited("new"); }}>New film</Button>
      </Box>
      {rack.data.films.length === 0 ? (
        <Empty words="No film yet. Enter what the film's sheet says: VLT and what it was measured on come first." />
      ) : (
        <Box sx={{ overflowX: "auto", position: "relative" }}>
          <Table size="small" aria-label="Films">
            <TableHead>
              <TableRow><TableCell>Film</TableCell><TableCell>Construction</TableCell><TableCell align="right">VLT</TableCell><TableCell>measured</TableCell><TableCell align="right">Reflects</TableCell><TableCell align="right">Solar T / R</TableCell><TableCell align="right">Shrink limit</TableCell><TableCell align="right">On the rack</TableCell><TableCell /></TableRow>
            </TableHead>
            <TableBody>
              {rack.data.films.map((film) => (
                <TableRow key={film.id} id={film.id} hover>
                  <TableCell sx={{ fontWeight: 700 }}><Link to={`/films/${film.id}`} style={{ color: "inherit" }}>{film.name}</Link></TableCell>
                  <TableCell>{film.construction}{film.mirror_finish ? ", mirror" : ""}</TableCell>
                  <TableCell align="right">{share(film.vlt_percent)}</TableCell>
                  <TableCell>{BASIS[film.vlt_basis ?? "unknown"]}</TableCell>
                  <TableCell align="right">{share(film.reflectance_percent)}</TableCell>
                  <TableCell align="right">{film.solar_transmittance_percent === null ? NOT_STATED : `${share(film.solar_transmittance_percent)} / ${share(film.solar_reflectance_percent)}`}</TableCell>
                  <TableCell align="right">{film.shrink_limit_percent === null ? "our starting value" : share(film.shrink_limit_percent)}</TableCell>
                  <TableCell align="right">{film.stocked_mm > 0 ? showLength(film.stocked_mm, unit) : "none"}</TableCell>
                  <TableCell align="right" sx={{ whiteSpace: "nowrap" }}>
                    <Button size="small" onClick={() => { setEdited(film); }} aria-label={`Change ${film.name}`}>Change</Button>
                    <Button size="small" variant="text" aria-label={`Take off ${film.name}`} onClick={() => { remove.mutate({ id: film.id, version: film.version }, { onError: (error) => { notify(error.message, { bad: true }); }, onSuccess: () => { notify(`${film.name} is off file.`); } }); }}>Take off</Button>
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </Box>
      )}
      {edited && <FilmDialog film={edited === "new" ? null : edited} onClose={() => { setEdited(null); }} />}
    </>
  );
}

const SHARES: [Share, string, string][] = [
  ["vlt_percent", "VLT, %", "visible light"],
  ["reflectance_percent", "Visible reflectance, %", "outward side"],
  ["reflectance_inside_percent", "Reflectance inward, %", "empty: as outward"],
  ["uv_rejection_percent", "Ultraviolet rejected, %", "empty: not in the data"],
  ["solar_transmittance_percent", "Solar transmittance, %", "empty: not in the data"],
  ["solar_reflectance_percent", "Solar reflectance, %", "empty: not in the data"],
  ["shrink_limit_percent", "Shrink limit, %", "empty: our starting value"],
];

function FilmDialog({ film, onClose }: { film: FilmItem | null; onClose: () => void }) {
  const save = useSaveFilm();
  const [texts, setTexts] = useState<Record<Share, string>>(() => Object.fromEntries(SHARES.map(([name]) => [name, String(film?.[name] ?? "")])) as Record<Share, string>);
  const [body, setBody] = useState({
    name: film?.name ?? "",
    construction: film?.construction ?? ("dyed" as const),
    vlt_basis: film?.vlt_basis ?? ("unknown" as const),
    colour: film?.colour ?? "neutral",
    mirror_finish: film?.mirror_finish ?? false,
    price_per_m2: film?.price_per_m2 ?? 0,
    warranty: film?.warranty ?? ("unknown" as const),
    warranty_years: film?.warranty_years ?? null,
  });
  const fields = save.error instanceof Problem ? save.error.fields : {};
  const number = (text: string) => (text.trim() === "" ? null : Number(text));
  const bad = (name: Share) => (texts[name].trim() !== "" && Number.isNaN(Number(texts[name])) ? "A number, such as 35" : fields[name]);
  const submit = () => {
    const shares = Object.fromEntries(SHARES.map(([name]) => [name, number(texts[name])])) as Record<Share, number | null>;
    save.mutate(
      { ...(film ? { id: film.id, version: film.version } : {}), body: { ...body, ...shares, vlt_percent: shares.vlt_percent ?? Number.NaN } },
      { onSuccess: onClose },
    );
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="film-title">
      <DialogTitle id="film-title">{film ? `Change ${film.name}` : "New film"}</DialogTitle>
      <DialogContent>
        {save.isError && <ErrorNote error={save.error} />}
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 2, mt: 1 }}>
          <TextField label="Name" value={body.name} autoFocus onChange={(event) => { setBody({ ...body, name: event.target.value }); }} error={Boolean(fields["name"])} helperText={fields["name"]} />
          <TextField select label="Construction" value={body.construction} onChange={(event) => { setBody({ ...body, construction: event.target.value as FilmFields["construction"] }); }}>
            {["dyed", "metal", "carbon", "ceramic", "clear"].map((value) => <MenuItem key={value} value={value}>{value}</MenuItem>)}
          </TextField>
          {SHARES.map(([name, label, hint]) => (
            <TextField key={name} label={label} value={texts[name]} onChange={(event) => { setTexts({ ...texts, [name]: event.target.value }); }} error={Boolean(bad(name))} helperText={bad(name) ?? hint} slotProps={{ htmlInput: { inputMode: "decimal" } }} />
          ))}
          <TextField select label="VLT measured" value={body.vlt_basis} onChange={(event) => { setBody({ ...body, vlt_basis: event.target.value as NonNullable<FilmFields["vlt_basis"]> }); }}>
            {Object.entries(BASIS).map(([value, words]) => <MenuItem key={value} value={value}>{words}</MenuItem>)}
          </TextField>
          <TextField select label="Warranty" value={body.warranty} onChange={(event) => { const warranty = event.target.value as NonNullable<FilmFields["warranty"]>; setBody({ ...body, warranty, warranty_years: warranty === "years" ? (body.warranty_years ?? 7) : null }); }}>
            {Object.entries(WARRANTY).map(([value, words]) => <MenuItem key={value} value={value}>{words}</MenuItem>)}
          </TextField>
          {body.warranty === "years" && <TextField type="number" label="Years" value={body.warranty_years ?? ""} onChange={(event) => { setBody({ ...body, warranty_years: event.target.value === "" ? null : Number(event.target.value) }); }} error={Boolean(fields["warranty_years"])} helperText={fields["warranty_years"]} />}
          <TextField label="Colour" value={body.colour} onChange={(event) => { setBody({ ...body, colour: event.target.value }); }} helperText="some laws ban red, amber, gold …" />
          <FormControlLabel control={<Checkbox checked={body.mirror_finish} onChange={(_, mirror) => { setBody({ ...body, mirror_finish: mirror }); }} />} label="Mirror finish" />
        </Box>
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>Cancel</Button>
        <Button variant="contained" color="secondary" disabled={save.isPending || !body.name.trim() || texts.vlt_percent.trim() === "" || SHARES.some(([name]) => Number.isNaN(number(texts[name]) ?? 0))} onClick={submit}>Save</Button>
      </DialogActions>
    </Dialog>
  );
}

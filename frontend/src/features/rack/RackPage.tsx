import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, MenuItem, TextField, Typography, useTheme } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Rack, Schemas } from "../../api/client";
import { Problem } from "../../api/unwrap";
import { Answer, Empty, ErrorNote, Pending, showLength, showMoney, useNotify, useSettings } from "../../shared";
import { rackQuery, useRemoveStock, useSaveStock } from "./api";

type StockItem = Rack["stock"][number];
type StockFields = Schemas["StockFields"];

const LINER: Record<StockFields["liner"] & string, string> = { up: "liner up", down: "film up, liner down", unknown: "not checked" };
const KIND: Record<StockFields["kind"], string> = { roll: "roll", offcut: "offcut", sheet: "sheet" };

/** Rolls and offcuts, drawn as the length that is left. */
export function RackPage() {
  const rack = useQuery(rackQuery());
  const [edited, setEdited] = useState<StockItem | "new" | null>(null);
  if (rack.isPending) return <Pending what="the rack" />;
  if (rack.isError) return <ErrorNote error={rack.error} again={() => void rack.refetch()} />;
  const { films, stock } = rack.data;
  const rolls = stock.filter((item) => item.kind === "roll").length;
  const longest = Math.max(1, ...stock.map((item) => item.full_length_mm));
  return (
    <>
      <Box sx={{ display: "flex", gap: 2, alignItems: "start", flexWrap: "wrap" }}>
        <Box sx={{ flexGrow: 1 }}><Answer>{rolls} {rolls === 1 ? "roll" : "rolls"}, {stock.length - rolls} offcuts</Answer></Box>
        <Button variant="contained" color="secondary" disabled={films.length === 0} onClick={() => { setEdited("new"); }}>Put film on the rack</Button>
      </Box>
      {films.length === 0 && <Empty words="No film is on file. Enter the film first, then its rolls."><Button component={Link} to="/films">Films</Button></Empty>}
      {films.length > 0 && stock.length === 0 && <Empty words="The rack is empty. Put the first roll on it: width, length left, price." />}
      {films.map((film) => {
        const mine = stock.filter((item) => item.film_id === film.id);
        if (mine.length === 0) return null;
        return (
          <Box key={film.id} component="section" aria-label={film.name} sx={{ mb: 2.5 }}>
            <Typography variant="h2" sx={{ borderBottom: 1, borderColor: "divider" }}>{film.name}</Typography>
            {mine.map((item) => <StockLine key={item.id} item={item} longest={longest} onEdit={() => { setEdited(item); }} />)}
          </Box>
        );
      })}
      {edited && <StockDialog rack={rack.data} item={edited === "new" ? null : edited} onClose={() => { setEdited(null); }} />}
    </>
  );
}

const TALL = 1 / 36;

function StockLine({ item, longest, onEdit }: { item: StockItem; longest: number; onEdit: () => void }) {
  const { inks } = useTheme();
  const { unit } = useSettings();
  const remove = useRemoveStock();
  const notify = useNotify();
  const height = Math.max(12, item.width_mm * TALL);
  const take = () => {
    remove.mutate(
      { id: item.id, version: item.version },
      {
        onSuccess: () => { notify(`${item.label} is off the rack.`, { undo: () => { remove.mutate({ id: item.id, version: item.version + 1, restore: true }); } }); },
        onError: (error) => { notify(error.message, { bad: true }); },
      },
    );
  };
  return (
    <Box id={item.id} sx={{ display: "grid", gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "270px 1fr 190px" }, gap: 1.5, alignItems: "center", py: 0.75 }}>
      <Box>
        <Typography sx={{ fontWeight: 700 }}>{item.label}</Typography>
        <Typography variant="body2" color="text.secondary">{item.width} wide · lot {item.lot || "not on file"} · {LINER[item.liner ?? "unknown"]}</Typography>
      </Box>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5 }}>
        <svg width="58%" height={height} preserveAspectRatio="none" viewBox={`0 0 1000 ${String(height)}`} role="img" aria-label={`${showLength(item.length_left_mm, unit)} left of ${showLength(item.full_length_mm, unit)}`}>
          <rect x={1} y={1} width={(998 * item.full_length_mm) / longest} height={height - 2} fill="none" stroke={inks.rule} vectorEffect="non-scaling-stroke" strokeDasharray="3 4" />
          <rect x={1} y={1} width={(998 * item.length_left_mm) / longest} height={height - 2} fill={inks.shade} fillOpacity={0.35} stroke={inks.ink} vectorEffect="non-scaling-stroke" />
        </svg>
        <Typography sx={{ whiteSpace: "nowrap" }}><b>{item.length_left}</b> left · {showMoney(item.price_per_m2)}/m²</Typography>
      </Box>
      <Box sx={{ textAlign: "right" }}>
        <Button size="small" onClick={onEdit} aria-label={`Change ${item.label}`}>Change</Button>
        <Button size="small" variant="text" onClick={take} aria-label={`Take off ${item.label}`}>Take off</Button>
      </Box>
    </Box>
  );
}

const EMPTY: StockFields = { film_id: "", kind: "roll", label: "", width: "", full_length: "100'", length_left: "100'", price: 0, lot: "", liner: "up" };

function StockDialog({ rack, item, onClose }: { rack: Rack; item: StockItem | null; onClose: () => void }) {
  const save = useSaveStock();
  const [body, setBody] = useState<StockFields>(() => {
    if (!item) return { ...EMPTY, film_id: rack.films[0]?.id ?? "" };
    const { film_id, kind, label, width, full_length, length_left, price, lot, liner } = item;
    return { film_id, kind, label, width, full_length, length_left, price, lot, liner };
  });
  const fields = save.error instanceof Problem ? save.error.fields : {};
  const text = (name: "label" | "width" | "full_length" | "length_left" | "lot", label: string, hint?: string) => (
    <TextField label={label} value={body[name] ?? ""} onChange={(event) => { setBody({ ...body, [name]: event.target.value }); }} error={Boolean(fields[name])} helperText={fields[name] ?? hint} />
  );
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="stock-title">
      <DialogTitle id="stock-title">{item ? `Change ${item.label}` : "Put film on the rack"}</DialogTitle>
      <DialogContent>
        {save.isError && <ErrorNote error={save.error} />}
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 2, mt: 1 }}>
          <TextField select label="Film" value={body.film_id} onChange={(event) => { setBody({ ...body, film_id: event.target.value }); }}>
            {rack.films.map((film) => <MenuItem key={film.id} value={film.id}>{film.name}</MenuItem>)}
          </TextField>
          <TextField select label="Kind" value={body.kind} onChange={(event) => { setBody({ ...body, kind: event.target.value as StockFields["kind"] }); }}>
            {Object.entries(KIND).map(([value, words]) => <MenuItem key={value} value={value}>{words}</MenuItem>)}
          </TextField>
          {text("label", "Name on the rack")}
          {text("width", "Width", "across the roll")}
          {text("full_length", "Full length", "as bought, along the roll")}
          {text("length_left", "Length left", "along the roll")}
          <TextField label="Price at full length, $" type="number" value={body.price} onChange={(event) => { setBody({ ...body, price: Number(event.target.value) }); }} error={Boolean(fields["price"])} helperText={fields["price"]} />
          {text("lot", "Lot")}
          <TextField select label="As it lies" value={body.liner} onChange={(event) => { setBody({ ...body, liner: event.target.value as StockFields["liner"] }); }}>
            {Object.entries(LINER).map(([value, words]) => <MenuItem key={value} value={value}>{words}</MenuItem>)}
          </TextField>
        </Box>
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>Cancel</Button>
        <Button variant="contained" color="secondary" disabled={save.isPending} onClick={() => { save.mutate({ ...(item ? { id: item.id, version: item.version } : {}), body }, { onSuccess: onClose }); }}>Save</Button>
      </DialogActions>
    </Dialog>
  );
}

import { Alert, Autocomplete, Box, Button, Checkbox, FormControlLabel, MenuItem, Table, TableBody, TableCell, TableHead, TableRow, TextField, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Job, JobWindow } from "../../../api/client";
import { Problem } from "../../../api/unwrap";
import { Answer, Ruled, showLength, TapeField, useFollowing, useSettings, type LengthUnit } from "../../../shared";
import { historyQuery, stateListQuery, useAddWindow, useJobChange, useRemoveWindow, useWindowChange } from "../api";
import { PaneDrawing } from "../components/PaneDrawing";
import { CURVES, FEATURES, GLASS, KINDS, optionalKeys, POSITIONS, READING_LABELS, readingKeys, REGISTERED_AS } from "../logic/windows";

interface Props {
  job: Job;
  window: JobWindow | null;
  onSelect: (id: string | null) => void;
}

/** Measuring: what was read, what it draws, and whether the readings close. */
export function SurveyStation({ job, window, onSelect }: Props) {
  if (!window) return <WholeCar job={job} onSelect={onSelect} />;
  return <OnePane key={window.id} job={job} window={window} onSelect={onSelect} />;
}

function OnePane({ job, window, onSelect }: { job: Job; window: JobWindow; onSelect: Props["onSelect"] }) {
  const writes = useWindowChange(job.id);
  const [lit, setLit] = useState<string | null>(null);
  const { unit } = useSettings();
  const problem = writes.error instanceof Problem ? writes.error : null;
  const refusals = Object.fromEntries(Object.entries(problem?.fields ?? {}).map(([key, words]) => [key.replace("readings.", ""), words]));
  const change: FieldProps["change"] = (body) => { writes.change(window.id, body); };
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 7fr) minmax(340px, 5fr)" }, gap: 3 }}>
      <Box>
        <SurveyAnswer window={window} unit={unit} />
        <PaneDrawing window={window} lit={lit} />
        {window.pane.cautions.map((caution) => (
          <Typography key={caution} sx={{ mt: 1 }}>{caution}</Typography>
        ))}
        <Misclosure window={window} />
      </Box>
      <Box>
        {window.same_as_id ? (
          <SharedGlass job={job} window={window} change={change} onSelect={onSelect} />
        ) : (
          <ReadingFields job={job} window={window} refusals={refusals} change={change} onLit={setLit} onSelect={onSelect} />
        )}
        <Facts job={job} window={window} change={change} />
      </Box>
    </Box>
  );
}

function SurveyAnswer({ window, unit }: { window: JobWindow; unit: LengthUnit }) {
  const { pane } = window;
  if (pane.fit?.culprit) return <Answer tone="bad" why={`${pane.fit.culprit.sentence}: the other readings agree without it. Read it again.`}>Wrong reading: {pane.fit.culprit.label}</Answer>;
  if (pane.fit?.alarm)
    return <Answer tone="bad" why={`They miss a figure that can be drawn by ${pane.fit.misclosure_sigma.toFixed(1)} times their spread; ${pane.fit.alarm_sigma.toFixed(0)} is the alarm. One reading is off.`}>Readings do not close</Answer>;
  if (pane.ring.length === 0 || pane.missing.length > 0) {
    const names = pane.missing.map((missing) => missing.label).join(", ");
    return <Answer why={`Still to read: ${names}.`}>{pane.missing.length} {pane.missing.length === 1 ? "reading" : "readings"} to go</Answer>;
  }
  const size = `${showLength(pane.width_mm ?? 0, unit)} × ${showLength(pane.height_mm ?? 0, unit)}`;
  if (!pane.measured) return <Answer why="Greatest width and height: enough for the law and for a hand-cut blank. The outline is not measured and drawn dashed.">{size}</Answer>;
  const closes = pane.fit && pane.fit.redundancy > 0 ? `Readings close, ${pane.fit.misclosure_sigma.toFixed(1)} of ${pane.fit.alarm_sigma.toFixed(0)} times their spread.` : "Three sides leave nothing over to check them with.";
  return <Answer tone="good" why={closes}>{size}</Answer>;
}

/** What would close the figure, and the one further reading that tells. */
function Misclosure({ window }: { window: JobWindow }) {
  const fit = window.pane.fit;
  if (!fit?.alarm) return null;
  return (
    <Alert severity="warning" icon={false} sx={{ mt: 2, bgcolor: "background.paper", color: "text.primary", border: 2, borderColor: "error.main" }}>
      <Typography sx={{ fontWeight: 700 }}>Each of these changes alone would close it, likeliest first:</Typography>
      <Box component="ol" sx={{ my: 0.5, pl: 3 }}>
        {fit.changes.slice(0, 5).map((change) => (
          <li key={change.key}>{change.sentence}</li>
        ))}
      </Box>
      {fit.ask_for && <Typography sx={{ fontWeight: 700 }}>Read {fit.ask_for.label} as well: it tells which.</Typography>}
    </Alert>
  );
}

interface FieldProps {
  job: Job;
  window: JobWindow;
  refusals: Record<string, string>;
  change: (body: Parameters<ReturnType<typeof useWindowChange>["change"]>[1]) => void;
  onLit: (key: string | null) => void;
  onSelect: Props["onSelect"];
}

function ReadingFields({ job, window, refusals, change, onLit, onSelect }: FieldProps) {
  const mode = Object.values(window.readings)[0]?.mode ?? "surface";
  const put = (key: string, typed: string | null) => { change({ readings: { [key]: typed === null ? null : { typed, mode } } }); };
  const next = (key: string) => {
    const fields = [...document.querySelectorAll<HTMLInputElement>("[data-readings] input[data-tape]")];
    const at = fields.findIndex((field) => field.dataset["tape"] === `${window.id}.${key}`);
    const following = fields[at + 1];
    if (following && !following.closest("details:not([open])")) following.focus();
    else goOn();
  };
  /** The next window that has its own readings, in walkaround order. */
  const goOn = () => {
    const index = job.windows.findIndex((other) => other.id === window.id);
    const following = job.windows.slice(index + 1).find((other) => other.same_as_id === null);
    if (following) onSelect(following.id);
  };
  const field = (key: string, label: string, optional = false) => (
    <TapeField
      key={key}
      label={label}
      draftKey={`${window.id}.${key}`}
      saved={window.readings[key]?.typed ?? ""}
      refused={refusals[key]}
      optional={optional}
      onCommit={(typed) => { put(key, typed); }}
      onFocus={() => { onLit(key); }}
      onNext={() => { next(key); }}
      lit={window.pane.fit?.culprit?.key === key}
    />
  );
  const asked = window.pane.fit?.ask_for;
  const extras = Object.keys(window.readings).filter((key) => key.includes("_to_") || key.startsWith("mid_"));
  const extraLabel = (key: string) => (key === "mid_width" ? "Width at mid-height" : key === "mid_height" ? "Height at mid-width" : sentence(key.replace(/_/g, " ").replace(" to ", " corner to middle of ")));
  const keys = readingKeys(window);
  const firstEmpty = keys.find((key) => !window.readings[key]);
  const [startAt] = useState(firstEmpty);
  return (
    <Ruled
      title="Readings"
      action={
        <ToggleButtonGroup exclusive size="small" value={window.level} aria-label="Level" onChange={(_, level: JobWindow["level"] | null) => { if (level) change({ level }); }}>
          <ToggleButton value="size">Size</ToggleButton>
          <ToggleButton value="shape">Shape</ToggleButton>
        </ToggleButtonGroup>
      }
    >
      <Box data-readings>
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1.5, mt: 1.5 }}>
          {keys.map((key) => (
            <TapeField
              key={`${window.level}-${key}`}
              label={READING_LABELS[key] ?? key}
              draftKey={`${window.id}.${key}`}
              saved={window.readings[key]?.typed ?? ""}
              refused={refusals[key]}
              autoFocus={key === startAt}
              onCommit={(typed) => { put(key, typed); }}
              onFocus={() => { onLit(key); }}
              onNext={() => { next(key); }}
              lit={window.pane.fit?.culprit?.key === key}
            />
          ))}
          {extras.map((key) => <Box key={key} sx={{ gridColumn: "1 / -1" }}>{field(key, extraLabel(key))}</Box>)}
          {asked && !extras.includes(asked.key) && <Box sx={{ gridColumn: "1 / -1" }}>{field(asked.key, `Read as well: ${asked.label}`)}</Box>}
          {window.coverage === "strip" && field("strip_depth", READING_LABELS["strip_depth"] ?? "")}
          {window.coverage === "strip" && field("as1_depth", READING_LABELS["as1_depth"] ?? "", true)}
        </Box>
        {window.level === "shape" && (
          <Box sx={{ display: "flex", gap: 2, mt: 1.5, flexWrap: "wrap" }}>
            <ToggleButtonGroup exclusive size="small" value={window.figure} aria-label="Corners" onChange={(_, figure: JobWindow["figure"] | null) => { if (figure) change({ figure }); }}>
              <ToggleButton value="four">Four corners</ToggleButton>
              <ToggleButton value="three">Three</ToggleButton>
            </ToggleButtonGroup>
            <ToggleButtonGroup
              exclusive
              size="small"
              value={mode}
              aria-label="How the tape lay"
              onChange={(_, value: "surface" | "chord" | null) => {
                if (value) change({ readings: Object.fromEntries(Object.entries(window.readings).map(([key, reading]) => [key, { typed: reading.typed, mode: value }])) });
              }}
            >
              <ToggleButton value="surface">Tape on the glass</ToggleButton>
              <ToggleButton value="chord">Straight chord</ToggleButton>
            </ToggleButtonGroup>
          </Box>
        )}
        <Box component="details" sx={{ mt: 1.5 }} open={optionalKeys(window).some(([key]) => refusals[key])}>
          <Box component="summary" sx={{ cursor: "pointer", fontWeight: 600, py: 1 }}>{window.level === "shape" ? "Bows, corner radii, crowns" : "Crowns"}</Box>
          <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1.5, mt: 1 }}>{optionalKeys(window).map(([key, label]) => field(key, label))}</Box>
        </Box>
      </Box>
    </Ruled>
  );
}

function sentence(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
}

function SharedGlass({ job, window, change, onSelect }: Pick<FieldProps, "job" | "window" | "change" | "onSelect">) {
  const source = job.windows.find((other) => other.id === window.same_as_id);
  return (
    <Ruled title="Readings">
      <Typography sx={{ my: 1.5 }}>
        Same glass as <b>{source?.label}</b>{window.same_as_mirrored ? ", mirrored" : ""}. A new reading there changes this pane too.
      </Typography>
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap" }}>
        <Button onClick={() => { onSelect(window.same_as_id); }}>Go to {source?.label}</Button>
        <Button onClick={() => { change({ same_as_id: null, same_as_mirrored: false }); }}>Measure this one by itself</Button>
      </Box>
    </Ruled>
  );
}

function Facts({ job, window, change }: Pick<FieldProps, "job" | "window" | "change">) {
  const others = job.windows.filter((other) => other.id !== window.id && other.same_as_id === null);
  const { remove } = useRemoveWindow(job.id);
  return (
    <Ruled title="Glass" action={<Button variant="text" onClick={() => { remove(window.id, window.version, window.label); }}>Take this window out</Button>}>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1.5, mt: 1.5 }}>
        <VltField window={window} change={change} />
        <Choice label="Where from" value={window.bare_vlt_source} options={{ metered: "metered", marked: "marked on the glass", assumed: "assumed" }} onChange={(value) => { change({ bare_vlt_source: value }); }} />
        <Choice label="Curve" value={window.curve} options={CURVES} disabled={window.same_as_id !== null} onChange={(value) => { change({ curve: value }); }} />
        <Choice label="Glass type" value={window.glass_type} options={GLASS} onChange={(value) => { change({ glass_type: value }); }} />
        <Choice label="Kind" value={window.kind} options={KINDS} onChange={(value) => { change({ kind: value }); }} />
        <Choice label="Legal position" value={window.position} options={POSITIONS} onChange={(value) => { change({ position: value }); }} />
        <TextField
          select
          label="Same glass as"
          value={window.same_as_id ?? ""}
          onChange={(event) => {
            const id = event.target.value || null;
            const source = others.find((other) => other.id === id);
            change({ same_as_id: id, same_as_mirrored: Boolean(source && source.side !== window.side) });
          }}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="">its own</MenuItem>
          {others.map((other) => (
            <MenuItem key={other.id} value={other.id}>{other.label}{other.side !== window.side ? ", mirrored" : ""}</MenuItem>
          ))}
        </TextField>
        {(window.position === "windshield" || window.position === "front_side") && <Choice label="Film covers" value={window.coverage} options={{ full: "the whole pane", strip: "a strip at the top" }} onChange={(value) => { change({ coverage: value }); }} />}
        <TextField
          select
          label="In or at this glass"
          value={window.features}
          onChange={(event) => { change({ features: event.target.value as unknown as JobWindow["features"] }); }}
          slotProps={{ select: { multiple: true, displayEmpty: true, renderValue: (chosen) => (chosen as JobWindow["features"]).map((one) => FEATURES[one]).join(", ") || "nothing noted" }, inputLabel: { shrink: true } }}
        >
          {(Object.entries(FEATURES) as [JobWindow["features"][number], string][]).map(([value, words]) => <MenuItem key={value} value={value}>{words}</MenuItem>)}
        </TextField>
        <YesNoChoice label="Dark from the factory" value={window.factory_glass} unknown="told by the meter" onChange={(value) => { change({ factory_glass: value }); }} />
        {window.position === "windshield" && <YesNoChoice label="AS-1 line on the glass" value={window.as1_mark} unknown="not looked at yet" onChange={(value) => { change({ as1_mark: value }); }} />}
        <OldFilmFields job={job} window={window} change={change} />
      </Box>
    </Ruled>
  );
}

/** Old film: on it or not, coming off or staying, and what the meter read through. */
function OldFilmFields({ job, window, change }: Pick<FieldProps, "job" | "window" | "change">) {
  return (
    <>
      <FormControlLabel control={<Checkbox checked={window.old_film} onChange={(_, checked) => { change(checked ? { old_film: true } : { old_film: false, old_film_stays: false, bare_vlt_through_old_film: false, layers: [] }); }} />} label="Old film on it" />
      {window.old_film && (
        <>
          <FormControlLabel control={<Checkbox checked={window.old_film_stays} onChange={(_, checked) => { change({ old_film_stays: checked }); }} />} label="It stays on, new film over it" />
          <FormControlLabel control={<Checkbox checked={window.bare_vlt_through_old_film} onChange={(_, checked) => { change({ bare_vlt_through_old_film: checked }); }} />} label="The meter read through it" />
          {window.old_film_stays && !window.bare_vlt_through_old_film && (
            <TextField select label="It is" value={window.layers[0] ?? ""} onChange={(event) => { change({ layers: event.target.value ? [event.target.value] : [] }); }} slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}>
              <MenuItem value="">not known: meter through it</MenuItem>
              {job.films.map((film) => <MenuItem key={film.id} value={film.id}>{film.name}</MenuItem>)}
            </TextField>
          )}
        </>
      )}
    </>
  );
}

function YesNoChoice({ label, value, unknown, onChange }: { label: string; value: boolean | null; unknown: string; onChange: (value: boolean | null) => void }) {
  return <Choice label={label} value={value === null ? "unknown" : value ? "yes" : "no"} options={{ yes: "yes", no: "no", unknown }} onChange={(chosen) => { onChange(chosen === "unknown" ? null : chosen === "yes"); }} />;
}

/** One figure, or several readings of the meter with spaces between: their mean counts. */
function VltField({ window, change }: Pick<FieldProps, "window" | "change">) {
  const several = window.bare_readings_percent.length > 1;
  const saved = several ? window.bare_readings_percent.join(" ") : window.bare_vlt_percent === null ? "" : String(window.bare_vlt_percent);
  const [text, setText] = useFollowing(saved);
  const values = text.replace(/%/g, "").split(/[\s;]+/).filter(Boolean).map(Number);
  const wrong = values.some((value) => !(value >= 0 && value <= 100)) ? "A share of light: 0 to 100 %." : undefined;
  const commit = () => {
    if (wrong || text.trim() === saved) return;
    if (values.length === 0) change({ bare_vlt_percent: null });
    else if (values.length === 1) change({ bare_vlt_percent: values[0] ?? null, bare_vlt_source: window.bare_vlt_source === "assumed" ? "metered" : window.bare_vlt_source });
    else change({ bare_readings_percent: values });
  };
  const hint = several ? `mean ${String(Math.round((window.bare_vlt_percent ?? 0) * 10) / 10)} of ${String(window.bare_readings_percent.length)} readings` : window.bare_vlt_source === "assumed" ? "our starting value: meter it" : "or several: 71 72 70";
  return (
    <TextField
      label={window.bare_vlt_through_old_film ? "Glass with old film, VLT, %" : "Bare glass VLT, %"}
      value={text}
      error={Boolean(wrong)}
      helperText={wrong ?? hint}
      onChange={(event) => { setText(event.target.value); }}
      onBlur={commit}
      onKeyDown={(event) => { if (event.key === "Enter") commit(); }}
      slotProps={{ htmlInput: { inputMode: "decimal" } }}
    />
  );
}

function Choice<Value extends string>({ label, value, options, onChange, disabled }: { label: string; value: Value; options: Record<Value, string>; onChange: (value: Value) => void; disabled?: boolean }) {
  return (
    <TextField select label={label} value={value} disabled={disabled ?? false} onChange={(event) => { onChange(event.target.value as Value); }}>
      {(Object.entries(options) as [Value, string][]).map(([key, words]) => (
        <MenuItem key={key} value={key}>{words}</MenuItem>
      ))}
    </TextField>
  );
}

/** The car as a whole: facts the law asks for, and where the survey stands. */
function WholeCar({ job, onSelect }: { job: Job; onSelect: Props["onSelect"] }) {
  const { change } = useJobChange(job.id);
  const { unit } = useSettings();
  const lists = useQuery(stateListQuery());
  const history = useQuery(historyQuery(job.id));
  const { add } = useAddWindow(job.id);
  const open = job.windows.filter((window) => window.pane.ring.length === 0 || window.pane.missing.length > 0).length;
  const states = lists.data?.states ?? [];
  return (
    <>
      <Answer tone={open ? "open" : "good"}>{open ? `${String(open)} of ${String(job.windows.length)} windows still to measure` : "All glass measured"}</Answer>
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "2fr 1fr" }, gap: 3 }}>
        <Box>
          <Table size="small" aria-label="Windows">
            <TableHead>
              <TableRow><TableCell>Window</TableCell><TableCell>Position</TableCell><TableCell align="right">Size</TableCell><TableCell>Curve</TableCell><TableCell align="right">Bare glass</TableCell></TableRow>
            </TableHead>
            <TableBody>
              {job.windows.map((window) => (
                <TableRow key={window.id} hover>
                  <TableCell><Button variant="text" onClick={() => { onSelect(window.id); }}>{window.label}</Button></TableCell>
                  <TableCell>{POSITIONS[window.position]}</TableCell>
                  <TableCell align="right">{window.pane.width_mm && window.pane.height_mm ? `${showLength(window.pane.width_mm, unit)} × ${showLength(window.pane.height_mm, unit)}` : "not measured"}</TableCell>
                  <TableCell>{CURVES[window.curve]}</TableCell>
                  <TableCell align="right">{window.bare_vlt_percent === null ? "not known" : `${String(window.bare_vlt_percent)} % ${window.bare_vlt_source}`}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
          <Button sx={{ mt: 1 }} onClick={() => { add({ label: `Window ${String(job.windows.length + 1)}`, position: "rear_side", kind: "fixed_side", side: "centre", glass_type: "unknown", curve: "flat", figure: "four", same_as_mirrored: false }); }}>Add a window</Button>
        </Box>
        <Box>
          <Ruled title="What the law asks of the car">
            <Box sx={{ display: "grid", gap: 1.5, mt: 1.5 }}>
              <Autocomplete
                multiple
                options={states.map((state) => state.code)}
                getOptionLabel={(code) => states.find((state) => state.code === code)?.name ?? code}
                value={job.states}
                onChange={(_, value) => { if (value.length) change({ states: value.slice(0, 6) }); }}
                autoHighlight
                renderInput={(params) => <TextField {...params} label="States" />}
              />
              <Choice label="Class" value={job.vehicle_class} options={{ passenger: "passenger car", multipurpose: "multipurpose: SUV, van, truck" }} onChange={(value) => { change({ vehicle_class: value }); }} />
              <Choice label="Outside mirrors on both sides" value={job.mirrors_both_sides === null ? "unknown" : job.mirrors_both_sides ? "yes" : "no"} options={{ yes: "yes", no: "no", unknown: "not looked at yet" }} onChange={(value) => { change({ mirrors_both_sides: value === "unknown" ? null : value === "yes" }); }} />
              <YearField job={job} change={change} />
              <Choice label="Registered as" value={job.registered_as ?? "unknown"} options={{ unknown: "not looked at yet", ...REGISTERED_AS }} onChange={(value) => { change({ registered_as: value === "unknown" ? null : value }); }} />
              {job.no_glass_at.length > 0 && (
                <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
                  <Typography>No glass at: {job.no_glass_at.map((position) => POSITIONS[position]).join(", ")}.</Typography>
                  <Button size="small" onClick={() => { change({ no_glass_at: [] }); }}>Take that back</Button>
                </Box>
              )}
            </Box>
          </Ruled>
          <Ruled title="Who changed what">
            {history.data?.entries.slice(0, 8).map((entry, i) => (
              <Typography key={i} variant="body2" sx={{ py: 0.25 }}>
                {new Date(entry.at).toLocaleTimeString("en-US", { hour: "numeric", minute: "2-digit" })} · {entry.person} {entry.action} {entry.what}{entry.action === "changed" ? `: ${entry.fields.join(", ").replace(/_/g, " ")}` : ""}
              </Typography>
            ))}
          </Ruled>
        </Box>
      </Box>
    </>
  );
}

function YearField({ job, change }: { job: Job; change: (body: { model_year: number | null }) => void }) {
  const saved = job.model_year === null ? "" : String(job.model_year);
  const [text, setText] = useFollowing(saved);
  const wrong = text !== "" && !/^(19|20)\d\d$/.test(text);
  return (
    <TextField label="Model year" value={text} error={wrong} helperText={wrong ? "Four digits, such as 2021" : undefined} onChange={(event) => { setText(event.target.value.trim()); }} onBlur={() => { if (!wrong && text !== saved) change({ model_year: text ? Number(text) : null }); }} />
  );
}

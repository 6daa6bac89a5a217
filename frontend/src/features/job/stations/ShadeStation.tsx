import { Box, Button, Table, TableBody, TableCell, TableHead, TableRow, Typography, useTheme } from "@mui/material";
import type { Job, JobWindow, Verdict } from "../../../api/client";
import { Answer, Ruled, showPercent, toneOf, VerdictMark } from "../../../shared";
import { useFilmForMany } from "../api";
import { filmGroups } from "../logic/windows";

interface Props {
  job: Job;
  window: JobWindow | null;
  onSelect: (id: string | null) => void;
}

/** How dark it will be, what the law says, and which film to take. */
export function ShadeStation({ job, window, onSelect }: Props) {
  if (!window) return <WholeCar job={job} onSelect={onSelect} />;
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", md: "minmax(0, 1fr) minmax(0, 1fr)" }, gap: 4 }}>
      <Box>
        <ShadeAnswer window={window} />
        {window.verdicts.map((verdict) => (
          <VerdictRow key={verdict.state} verdict={verdict} />
        ))}
        {window.old_film && <Typography sx={{ my: 1 }}>Old film is on this glass: the figure holds once it is off and the bare glass is metered.</Typography>}
        <Why window={window} />
      </Box>
      <FilmTable job={job} window={window} />
    </Box>
  );
}

function ShadeAnswer({ window }: { window: JobWindow }) {
  const { shade, worst } = window;
  const percent = shade.vlt_percent === null ? "" : `, ${showPercent(shade.vlt_percent)}`;
  if (worst === null)
    return <Answer why={shade.vlt_percent === null ? "The bare glass is not known: read or meter it at Survey." : "Bare glass. Pick a film on the right."}>No film{percent}</Answer>;
  const first = window.verdicts.find((verdict) => verdict.word === worst);
  return <Answer tone={toneOf(worst)} why={first?.sentence}>{worst}{percent}</Answer>;
}

function VerdictRow({ verdict }: { verdict: Verdict }) {
  const figure = (words: string, value: string) => (
    <Box>
      <Typography variant="caption" color="text.secondary" component="div">{words}</Typography>
      <Typography sx={{ fontWeight: 700, fontSize: "1.15rem" }}>{value}</Typography>
    </Box>
  );
  return (
    <Box sx={{ borderTop: 1, borderColor: "divider", py: 1.25 }} data-verdict={verdict.state}>
      <Box sx={{ display: "flex", gap: 2, alignItems: "center", mb: 0.5 }}>
        <Typography sx={{ fontWeight: 700 }}>{verdict.state_name}</Typography>
        <VerdictMark word={verdict.word} />
      </Box>
      <Box sx={{ display: "flex", columnGap: 3, rowGap: 0.5, flexWrap: "wrap" }}>
        {verdict.vlt_percent !== null && figure("passes", showPercent(verdict.vlt_percent))}
        {verdict.limit_percent !== null && figure("limit", showPercent(verdict.limit_percent))}
        {verdict.margin_points !== null && figure("margin", `${verdict.margin_points >= 0 ? "+" : "−"}${Math.abs(verdict.margin_points).toFixed(1)} points`)}
        {verdict.risk !== null && figure("meter may read under", `${(verdict.risk * 100).toFixed(0)} in 100`)}
      </Box>
      <Typography variant="body2" sx={{ mt: 0.5 }}>{verdict.citation}</Typography>
      {verdict.questions.map((question) => (
        <Typography key={question} sx={{ mt: 0.5, fontWeight: 600 }}>Missing: {question}</Typography>
      ))}
      {verdict.notes.map((note) => (
        <Typography key={note} variant="body2" color="text.secondary">{note}</Typography>
      ))}
      {verdict.unconfirmed.length > 0 && (
        <Typography variant="body2" color="text.secondary">Not confirmed by anybody yet: {verdict.unconfirmed.map((name) => name.replace(/[._]/g, " ")).join(", ")}.</Typography>
      )}
    </Box>
  );
}

/** Formula, both schools, spread: where the number comes from. */
function Why({ window }: { window: JobWindow }) {
  const { shade } = window;
  if (shade.vlt_percent === null) return null;
  return (
    <Box component="details" sx={{ mt: 1 }}>
      <Box component="summary" sx={{ cursor: "pointer", fontWeight: 600, py: 1 }}>Why this number?</Box>
      <Typography sx={{ fontFamily: '"B612 Mono", monospace', fontSize: "0.92rem", my: 1 }}>{shade.formula}</Typography>
      <Table size="small" sx={{ maxWidth: 480 }}>
        <TableBody>
          <TableRow><TableCell>Bonded: freed of the glass the sheet was measured on</TableCell><TableCell align="right">{shade.bonded_percent === null ? "basis not known" : showPercent(shade.bonded_percent)}</TableCell></TableRow>
          <TableRow><TableCell>Bench: glass times sheet, the quick school</TableCell><TableCell align="right">{shade.bench_percent === null ? "" : showPercent(shade.bench_percent)}</TableCell></TableRow>
          <TableRow><TableCell>Spread, 95 in 100</TableCell><TableCell align="right">± {shade.pm_points?.toFixed(1)} points</TableCell></TableRow>
        </TableBody>
      </Table>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 1 }}>Spreads are our starting values. This informs; it is not legal advice: the law and the local officer's meter decide.</Typography>
    </Box>
  );
}

function FilmTable({ job, window }: { job: Job; window: JobWindow }) {
  const { put, pending } = useFilmForMany(job.id);
  const { inks } = useTheme();
  const groups = filmGroups(job, window);
  const darkest = job.films.find((film) => film.id === window.darkest_clearing);
  const chosen = job.films.find((film) => film.id === window.film_id);
  return (
    <Ruled
      title="Films, darkest first"
      action={chosen && <Button variant="text" onClick={() => { put(job, null, [window.id], `${window.label} stays bare.`); }}>Take the film off</Button>}
    >
      <Typography sx={{ my: 1 }}>
        Darkest on the rack that clears: <b>{darkest ? darkest.name : "none"}</b>
        {darkest && darkest.id !== window.film_id && (
          <Button size="small" sx={{ ml: 1.5 }} disabled={pending} onClick={() => { put(job, darkest.id, [window.id], `${darkest.name} on ${window.label}.`); }}>Take it</Button>
        )}
      </Typography>
      {window.glass_type === "plastic" && <Typography sx={{ fontWeight: 700 }}>This pane is plastic: no film.</Typography>}
      <Table size="small" aria-label="Films">
        <TableHead>
          <TableRow><TableCell>Film</TableCell><TableCell align="right">Sheet</TableCell><TableCell align="right">With glass</TableCell><TableCell>Verdict</TableCell><TableCell /></TableRow>
        </TableHead>
        <TableBody>
          {window.choices.map((choice) => {
            const film = job.films.find((one) => one.id === choice.film_id);
            if (!film) return null;
            const here = film.id === window.film_id;
            return (
              <TableRow key={film.id} selected={here}>
                <TableCell sx={{ fontWeight: here ? 700 : 500 }}>{film.name}{choice.stocked ? "" : " (not on the rack)"}</TableCell>
                <TableCell align="right">{showPercent(film.vlt_percent)}</TableCell>
                <TableCell align="right">
                  <Box component="span" aria-hidden="true" sx={{ display: "inline-block", width: 30, height: 18, mr: 1, verticalAlign: "-3px", border: `1px solid ${inks.ink}`, bgcolor: shade(choice.vlt_percent) }} />
                  {choice.vlt_percent === null ? "?" : showPercent(choice.vlt_percent)}
                </TableCell>
                <TableCell><VerdictMark word={choice.word} size={15} /></TableCell>
                <TableCell align="right">
                  {here ? "chosen" : <Button size="small" disabled={pending || window.glass_type === "plastic"} aria-label={`Choose ${film.name} for ${window.label}`} onClick={() => { put(job, film.id, [window.id], `${film.name} on ${window.label}.`); }}>Choose</Button>}
                </TableCell>
              </TableRow>
            );
          })}
        </TableBody>
      </Table>
      {chosen && (
        <Box sx={{ mt: 2, display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}>
          <Typography sx={{ mr: 1 }}>{chosen.name} also on:</Typography>
          {groups.slice(1).map((group) => (
            <Button key={group.words} disabled={pending} onClick={() => { put(job, chosen.id, group.ids, `${chosen.name} on ${group.words.toLowerCase()}.`); }}>{group.words}</Button>
          ))}
        </Box>
      )}
    </Ruled>
  );
}

/** Linear light, then sRGB encoding: the same as the band draws. */
function shade(percent: number | null): string {
  if (percent === null) return "transparent";
  const linear = Math.min(1, Math.max(0, percent / 100));
  const encoded = linear <= 0.0031308 ? 12.92 * linear : 1.055 * linear ** (1 / 2.4) - 0.055;
  const level = Math.round(encoded * 255);
  return `rgb(${String(level)}, ${String(level)}, ${String(level)})`;
}

function WholeCar({ job, onSelect }: { job: Job; onSelect: Props["onSelect"] }) {
  const order = ["Not allowed", "Too dark", "Cannot tell", "Close", "No rule on file", "Clears"] as const;
  const worst = order.find((word) => job.windows.some((window) => window.worst === word)) ?? null;
  const held = job.windows.filter((window) => window.worst !== null && window.worst !== "Clears");
  return (
    <>
      <Answer tone={toneOf(worst)} why={held.length ? `Look at ${held.map((window) => window.label).join(", ")}.` : undefined}>{worst ? `Whole car: ${worst}` : "No film chosen yet"}</Answer>
      <Table size="small" aria-label="Shade of all windows">
        <TableHead>
          <TableRow><TableCell>Window</TableCell><TableCell>Film</TableCell><TableCell align="right">Bare</TableCell><TableCell align="right">With film</TableCell><TableCell>Verdict</TableCell><TableCell>Why</TableCell></TableRow>
        </TableHead>
        <TableBody>
          {job.windows.map((window) => (
            <TableRow key={window.id} hover>
              <TableCell><Button variant="text" onClick={() => { onSelect(window.id); }}>{window.label}</Button></TableCell>
              <TableCell>{job.films.find((film) => film.id === window.film_id)?.name ?? "none"}</TableCell>
              <TableCell align="right">{window.shade.bare_percent === null ? "?" : showPercent(window.shade.bare_percent)}</TableCell>
              <TableCell align="right">{window.film_id && window.shade.vlt_percent !== null ? showPercent(window.shade.vlt_percent) : ""}</TableCell>
              <TableCell><VerdictMark word={window.worst} size={15} /></TableCell>
              <TableCell>{window.verdicts.find((verdict) => verdict.word === window.worst)?.sentence}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </>
  );
}

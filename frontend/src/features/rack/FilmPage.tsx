import {
  Box,
  Button,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
  useTheme,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { WORDS } from "../../api/words";
import { Answer, Empty, ErrorNote, Figure, Pending, Ruled, showPercent } from "../../shared";
import { filmQuery, useStrikeReading } from "./api";

type Lot = Schemas["LotPage"];
const NOT = "not in the film’s data";

/** One film: what it does, and how its figure has held on cars. */
export function FilmPage() {
  const { filmId = "" } = useParams();
  const page = useQuery(filmQuery(filmId));
  if (page.isPending) return <Pending what="the film" />;
  if (page.isError) return <ErrorNote error={page.error} again={() => void page.refetch()} />;
  const { film, lots } = page.data;
  const share = (value: number | null | undefined) =>
    value === null || value === undefined ? NOT : showPercent(value);
  return (
    <>
      <Box sx={{ display: "flex", gap: 2, alignItems: "start" }}>
        <Box sx={{ flexGrow: 1 }}>
          <Answer
            why={`${page.data.quality} Colour ${colourWords(film)}${finishWords(film)}. Warranty: ${page.data.warranty}.`}
          >
            {film.name}: {showPercent(film.vlt_percent)} on its sheet
          </Answer>
        </Box>
        <Button component={Link} to="/films">
          All films
        </Button>
      </Box>
      <Ruled title="What it does">
        <Box sx={{ display: "flex", columnGap: 4, rowGap: 1, flexWrap: "wrap", mt: 1 }}>
          <Figure words="sheet, lot spread" value={`± ${page.data.maker_pm_points.toFixed(1)} points`} />
          <Figure words="film by itself" value={showPercent(page.data.alone_percent)} />
          <Figure words="reflects outward" value={share(film.reflectance_percent)} />
          <Figure words="solar energy rejected" value={share(page.data.tser_percent)} />
          <Figure words="solar absorbed" value={share(page.data.absorbed_percent)} />
          <Figure words="ultraviolet rejected" value={share(page.data.uv_percent)} />
        </Box>
      </Ruled>
      <Ruled title="Foretold against read, lot by lot">
        {lots.length === 0 && (
          <Empty words="No lot of this film is on the rack and none has been metered on a car. Enter the lot with the roll; after the job, meter the pane at Shade." />
        )}
        {lots.map((lot) => (
          <OneLot key={lot.lot} filmId={filmId} lot={lot} maker={film.vlt_percent} />
        ))}
      </Ruled>
    </>
  );
}

function OneLot({ filmId, lot, maker }: { filmId: string; lot: Lot; maker: number }) {
  const strike = useStrikeReading(filmId);
  return (
    <Box sx={{ py: 1.5, borderTop: 1, borderColor: "divider" }} data-lot={lot.lot}>
      <Typography sx={{ fontWeight: 700, fontSize: "1.1rem" }}>
        Lot {lot.lot}
        {lot.on_rack ? ", on the rack" : ", used up"}:{" "}
        {lot.vlt_percent === null
          ? `the maker’s ${showPercent(maker)}, nothing read yet`
          : `${showPercent(lot.vlt_percent)} ± ${lot.pm_points?.toFixed(1) ?? "?"}, n ${lot.count}`}
      </Typography>
      {lot.vlt_percent !== null && (
        <Typography variant="body2">
          {lot.in_use
            ? "Windows are reckoned with this figure, drawn from the maker’s toward the readings."
            : "More than one lot is on the rack, so windows are reckoned with the maker’s figure."}
        </Typography>
      )}
      {lot.readings.length > 0 && (
        <Box
          sx={{
            display: "grid",
            gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "280px minmax(0, 1fr)" },
            gap: 2,
            mt: 1,
            alignItems: "start",
          }}
        >
          <Scatter lot={lot} />
          <Table size="small" aria-label={`Readings of lot ${lot.lot}`}>
            <TableHead>
              <TableRow>
                <TableCell>Day</TableCell>
                <TableCell>Job</TableCell>
                <TableCell>Window</TableCell>
                <TableCell align="right">Foretold</TableCell>
                <TableCell align="right">Read</TableCell>
                <TableCell />
              </TableRow>
            </TableHead>
            <TableBody>
              {lot.readings.map((reading) => (
                <TableRow key={reading.id}>
                  <TableCell>{reading.on_day}</TableCell>
                  <TableCell>
                    <Link to={`/jobs/${reading.job_id}/shade`}>{reading.job_title}</Link>
                  </TableCell>
                  <TableCell>{reading.window}</TableCell>
                  <TableCell align="right">{showPercent(reading.predicted_percent)}</TableCell>
                  <TableCell align="right">{showPercent(reading.read_percent)}</TableCell>
                  <TableCell align="right">
                    <Button
                      size="small"
                      variant="text"
                      disabled={strike.pending}
                      onClick={() => {
                        strike.write({ id: reading.id, version: reading.version });
                      }}
                      aria-label={`Strike the reading of ${reading.window}`}
                    >
                      Strike
                    </Button>
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </Box>
      )}
      {strike.error && <ErrorNote error={strike.error} />}
    </Box>
  );
}

const SIZE = 260;
const PAD = 34;

/** Read over foretold, both from the same zero; on the line they agree. */
function Scatter({ lot }: { lot: Lot }) {
  const { inks } = useTheme();
  const most =
    Math.max(10, ...lot.readings.flatMap((reading) => [reading.predicted_percent, reading.read_percent])) *
    1.15;
  const at = (percent: number) => (percent / most) * (SIZE - PAD - 8);
  const y = (percent: number) => SIZE - PAD - at(percent);
  const step = most > 40 ? 20 : most > 20 ? 10 : 5;
  const ticks = Array.from({ length: Math.floor(most / step) + 1 }, (_, i) => i * step);
  return (
    <svg
      viewBox={`0 0 ${String(SIZE)} ${String(SIZE)}`}
      role="img"
      aria-label={`Foretold against read, lot ${lot.lot}`}
      style={{ width: "100%", maxWidth: 280 }}
    >
      <line x1={PAD} y1={y(0)} x2={PAD + at(most)} y2={y(most)} stroke={inks.soft} strokeDasharray="4 4" />
      {ticks.map((tick) => (
        <g key={tick}>
          <line x1={PAD + at(tick)} y1={y(0)} x2={PAD + at(tick)} y2={y(0) + 4} stroke={inks.ink} />
          <text x={PAD + at(tick)} y={y(0) + 16} textAnchor="middle" fontSize="12" fill={inks.ink}>
            {tick}
          </text>
          <text x={PAD - 6} y={y(tick) + 4} textAnchor="end" fontSize="12" fill={inks.ink}>
            {tick}
          </text>
        </g>
      ))}
      <path
        d={`M${String(PAD)} 8 V${String(y(0))} H${String(SIZE - 8)}`}
        fill="none"
        stroke={inks.ink}
        strokeWidth={1.5}
      />
      {lot.readings.map((reading) => (
        <circle
          key={reading.id}
          cx={PAD + at(reading.predicted_percent)}
          cy={y(reading.read_percent)}
          r={5}
          fill={inks.sun}
          stroke={inks.ink}
        />
      ))}
      <text x={SIZE - 8} y={SIZE - 4} textAnchor="end" fontSize="12" fill={inks.soft}>
        foretold, %
      </text>
      <text x={PAD + 4} y={16} fontSize="12" fill={inks.soft}>
        read, %
      </text>
    </svg>
  );
}

type Film = Schemas["FilmOut"];

function colourWords(film: Film): string {
  const named = film.colours.map((colour) => WORDS.Colour[colour]).join(" and ");
  return named || (film.colour_words ? `not said (“${film.colour_words}” by its sheet)` : "not said");
}

function finishWords(film: Film): string {
  if (film.mirror_finish === null) return ", whether it looks mirrored not said";
  return film.mirror_finish ? ", mirror finish" : ", not mirrored";
}

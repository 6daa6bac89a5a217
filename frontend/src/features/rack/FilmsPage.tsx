import { Box, Button, Table, TableBody, TableCell, TableHead, TableRow } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Rack } from "../../api/client";
import { rackQuery } from "../../api/queries";
import { WORDS } from "../../api/words";
import {
  Answer,
  ArchiveButton,
  ArchivedList,
  ArchivedToggle,
  Empty,
  ErrorNote,
  Head,
  Pending,
  showRoll,
  useArchive,
  useArchived,
  useLeads,
  useSettings,
} from "../../shared";
import { FilmDialog } from "./components/FilmDialog";

type FilmItem = Rack["films"][number];

const NOT_STATED = "not in the film's data";
const share = (value: number | null) => (value === null ? NOT_STATED : `${value} %`);

/** Films on file, as their sheets describe them. */
export function FilmsPage() {
  const rack = useQuery(rackQuery());
  const [edited, setEdited] = useState<FilmItem | "new" | null>(null);
  const [archived] = useArchived();
  if (rack.isPending) return <Pending what="the films" />;
  if (rack.isError) return <ErrorNote error={rack.error} again={() => void rack.refetch()} />;
  const { films, unreadable } = rack.data;
  if (archived) return <ArchivedList kind="film" what="films" />;
  return (
    <>
      <Head
        buttons={
          <>
            <Button variant="contained" color="secondary" onClick={() => setEdited("new")}>
              New film
            </Button>
            <ArchivedToggle />
          </>
        }
      >
        <Answer>{films.length} films on file</Answer>
      </Head>
      {unreadable.map((film) => (
        <ErrorNote key={film.id} error={`${film.name} cannot be used: ${film.reason}. Enter it anew.`} />
      ))}
      {films.length === 0 ? (
        <Empty words="No film yet. Enter what the film's sheet says: VLT and what it was measured on come first." />
      ) : (
        <Box sx={{ overflowX: "auto", position: "relative" }}>
          <Table size="small" aria-label="Films">
            <TableHead>
              <TableRow>
                <TableCell>Film</TableCell>
                <TableCell>Construction</TableCell>
                <TableCell align="right">VLT</TableCell>
                <TableCell>measured</TableCell>
                <TableCell align="right">Reflects</TableCell>
                <TableCell align="right">Solar T / R</TableCell>
                <TableCell align="right">Shrink limit</TableCell>
                <TableCell align="right">On the rack</TableCell>
                <TableCell />
              </TableRow>
            </TableHead>
            <TableBody>
              {films.map((film) => (
                <FilmRow key={film.id} film={film} onEdit={() => setEdited(film)} />
              ))}
            </TableBody>
          </Table>
        </Box>
      )}
      {edited && <FilmDialog film={edited === "new" ? null : edited} onClose={() => setEdited(null)} />}
    </>
  );
}

function FilmRow({ film, onEdit }: { film: FilmItem; onEdit: () => void }) {
  const { unit } = useSettings();
  const { archive } = useArchive("film");
  const lead = useLeads();
  const solar =
    film.solar_transmittance_percent === null
      ? NOT_STATED
      : `${share(film.solar_transmittance_percent)} / ${share(film.solar_reflectance_percent)}`;
  return (
    <TableRow id={film.id} hover>
      <TableCell sx={{ fontWeight: 700 }}>
        <Link to={`/films/${film.id}`} style={{ color: "inherit" }}>
          {film.name}
        </Link>
      </TableCell>
      <TableCell>
        {film.construction}
        {film.mirror_finish ? ", mirror" : ""}
      </TableCell>
      <TableCell align="right">{share(film.vlt_percent)}</TableCell>
      <TableCell>{WORDS.VltBasis[film.vlt_basis]}</TableCell>
      <TableCell align="right">{share(film.reflectance_percent)}</TableCell>
      <TableCell align="right">{solar}</TableCell>
      <TableCell align="right">
        {film.shrink_limit_percent === null ? "our starting value" : share(film.shrink_limit_percent)}
      </TableCell>
      <TableCell align="right">{film.stocked_mm > 0 ? showRoll(film.stocked_mm, unit) : "none"}</TableCell>
      <TableCell align="right" sx={{ whiteSpace: "nowrap" }}>
        <Button size="small" onClick={onEdit} aria-label={`Change ${film.name}`}>
          Change
        </Button>
        {lead && (
          <ArchiveButton name={film.name} onArchive={() => archive(film.id, film.version, film.name)} />
        )}
      </TableCell>
    </TableRow>
  );
}

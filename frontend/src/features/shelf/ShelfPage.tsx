import { Box, Button, Pagination, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { shelfQuery } from "../../api/queries";
import {
  Answer,
  ArchivedList,
  ArchivedToggle,
  useArchived,
  Empty,
  ErrorNote,
  FileButton,
  Head,
  PaneRow,
  Pending,
  useNotify,
} from "../../shared";
import { useImportShelf } from "./api";

/** Every car whose glass is measured already, found by words in any order. */
export function ShelfPage() {
  const [params, setParams] = useSearchParams();
  const words = params.get("q") ?? "";
  const page = Math.max(1, Number(params.get("page")) || 1);
  const shelf = useQuery(shelfQuery(useDeferredValue(words), page));
  const look = (q: string, to: number) =>
    setParams({ ...(q ? { q } : {}), ...(to > 1 ? { page: String(to) } : {}) }, { replace: true });
  const found = shelf.data;
  const [archived] = useArchived();
  if (archived) return <ArchivedList kind="shelf_car" what="cars of the shelf" />;
  return (
    <>
      <Head
        buttons={
          <>
            <InAndOut />
            <ArchivedToggle />
          </>
        }
      >
        <Answer why="Measured once, kept for ever. A new job takes all its glass from here in one touch.">
          {found ? answerWords(found, words) : "Glass shelf"}
        </Answer>
      </Head>
      <TextField
        label="Search: car, year, body, trim, in any order"
        value={words}
        onChange={(event) => look(event.target.value, 1)}
        fullWidth
        sx={{ maxWidth: 620, mb: 1.5 }}
      />
      {shelf.isPending && <Pending what="the glass shelf" />}
      {shelf.isError && <ErrorNote error={shelf.error} again={() => void shelf.refetch()} />}
      {found?.total === 0 && <Nothing words={words} />}
      {found?.cars.map((car) => (
        <CarLine key={car.id} car={car} />
      ))}
      {found && found.pages > 1 && (
        <Box sx={{ display: "flex", gap: 2, alignItems: "center", mt: 2, flexWrap: "wrap" }}>
          <Pagination count={found.pages} page={found.page} onChange={(_, to) => look(words, to)} />
          <Typography color="text.secondary">{found.total} cars</Typography>
        </Box>
      )}
    </>
  );
}

function answerWords(found: Schemas["ShelfList"], words: string): string {
  const cars = `${found.total} ${found.total === 1 ? "car" : "cars"}`;
  return words ? `${cars} found` : `${cars}, ${found.total_panes} panes measured`;
}

function Nothing({ words }: { words: string }) {
  return words ? (
    <Empty words={`No car on the shelf has all of “${words}” in its name, years, body or trim.`} />
  ) : (
    <Empty words="The shelf is empty. Survey a car, then “Keep on the glass shelf” at its whole-car screen; or open a shelf file." />
  );
}

function InAndOut() {
  const bring = useImportShelf();
  const notify = useNotify();
  const open = (file: File) =>
    bring.write(file, {
      onSuccess: (told) => notify(importedWords(told)),
      onError: (error) => notify(error.message, { bad: true }),
    });
  return (
    <>
      <FileButton words="Open a shelf file" label="Shelf file" disabled={bring.pending} onChosen={open} />
      <Button component="a" href="/api/shelf/file" download>
        Save the whole shelf
      </Button>
    </>
  );
}

function importedWords(told: Schemas["ShelfImported"]): string {
  const words = [`${told.added} ${told.added === 1 ? "car" : "cars"} came onto the shelf`];
  if (told.already_here) words.push(`${told.already_here} were here already`);
  if (told.left_out.length) words.push(`left out: ${told.left_out.slice(0, 3).join("; ")}`);
  return `${words.join("; ")}.`;
}

function CarLine({ car }: { car: Schemas["ShelfCarBrief"] }) {
  const details = [car.body_label, car.doors === null ? "" : `${car.doors} doors`, car.trim];
  return (
    <Box
      data-shelf-car
      sx={{
        display: "flex",
        gap: 2,
        alignItems: "center",
        flexWrap: "wrap",
        borderBottom: 1,
        borderColor: "divider",
        py: 1,
      }}
    >
      <Box sx={{ width: { xs: "100%", sm: 280 } }}>
        <Typography
          component={Link}
          to={`/shelf/${car.id}`}
          sx={{ fontWeight: 700, fontSize: "1.15rem", color: "text.primary" }}
        >
          {car.name} {car.years}
        </Typography>
        <Typography variant="body2" color="text.secondary">
          {details.filter(Boolean).join(" · ")}
          {car.made_up ? " · made up" : ""}
        </Typography>
      </Box>
      <Box sx={{ flexGrow: 1, minWidth: 0 }}>
        <PaneRow panes={car.panes} />
      </Box>
      <Button component={Link} to={`/jobs/new?same-as=${car.id}`}>
        New job with this glass
      </Button>
    </Box>
  );
}

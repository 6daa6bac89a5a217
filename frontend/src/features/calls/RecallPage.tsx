import { Box, Button, Table, TableBody, TableCell, TableHead, TableRow } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import { Answer, counted, Empty, ErrorNote, Head, Pending, PickOne } from "../../shared";
import { lotsQuery, recallQuery } from "./api";

/** Every window with film of a lot, with whom to call. */
export function RecallPage() {
  const [params, setParams] = useSearchParams();
  const [film, lot] = [params.get("film") ?? "", params.get("lot") ?? ""];
  const lots = useQuery(lotsQuery());
  const found = useQuery(recallQuery(film, lot));
  const query = `film_id=${encodeURIComponent(film)}&lot=${encodeURIComponent(lot)}`;
  const rows = found.data?.rows ?? [];
  const cars = new Set(rows.map((row) => row.job_id)).size;
  return (
    <>
      <Head
        buttons={
          lot !== "" && (
            <>
              <Button component="a" href={`/api/recall.csv?${query}`} download>
                CSV
              </Button>
              <Button component="a" href={`/api/recall.pdf?${query}`} target="_blank" rel="noreferrer">
                Print the list
              </Button>
            </>
          )
        }
      >
        <Answer tone={rows.length > 0 ? "bad" : "open"}>
          {lot === ""
            ? "Which lot?"
            : found.data
              ? `Lot ${lot}: on ${counted(rows.length, "window")} of ${counted(cars, "car")}`
              : `Lot ${lot}`}
        </Answer>
      </Head>
      <Box sx={{ display: "grid", maxWidth: 420, mb: 2 }}>
        <PickOne
          label="Film and lot"
          value={lot === "" ? null : `${film}|${lot}`}
          none="pick one"
          options={(lots.data?.lots ?? []).map(
            (one) => [`${one.film_id}|${one.lot}`, `${one.film}, ${one.lot}`] as const,
          )}
          onChange={(chosen) => {
            const [id = "", name = ""] = (chosen ?? "").split("|");
            setParams(chosen ? { film: id, lot: name } : {}, { replace: true });
          }}
        />
      </Box>
      {lots.data?.lots.length === 0 && (
        <Empty words="No lot is on file. It stands on the roll’s label: type it when film comes to the rack.">
          <Button component={Link} to="/rack">
            Rack
          </Button>
        </Empty>
      )}
      {lot !== "" && found.isPending && <Pending what="the windows" />}
      {found.isError && <ErrorNote error={found.error} again={() => void found.refetch()} />}
      {found.data && rows.length === 0 && <Empty words="No window that was cut here carries this lot." />}
      {rows.length > 0 && (
        <Box sx={{ overflowX: "auto", position: "relative" }}>
          <Table size="small" aria-label="Windows of the lot">
            <TableHead>
              <TableRow>
                {["Job", "Customer", "Telephone", "Car", "Plate", "Window", "Cut on"].map((one) => (
                  <TableCell key={one}>{one}</TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {rows.map((row) => (
                <TableRow key={`${row.job_id}.${row.window}`}>
                  <TableCell>
                    <Link to={`/jobs/${row.job_id}`} style={{ color: "inherit" }}>
                      {row.number}
                    </Link>
                  </TableCell>
                  <TableCell>{row.customer}</TableCell>
                  <TableCell>{row.phone}</TableCell>
                  <TableCell>{row.vehicle}</TableCell>
                  <TableCell>{row.plate}</TableCell>
                  <TableCell>{row.window}</TableCell>
                  <TableCell>{row.on_day}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </Box>
      )}
    </>
  );
}

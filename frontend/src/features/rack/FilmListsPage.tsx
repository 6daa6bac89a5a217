import { Button, Table, TableBody, TableCell, TableHead, TableRow, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Answer, Empty, ErrorNote, Head, Pending, Ruled, showMoney, useSettings } from "../../shared";
import { purchaseQuery, usedQuery } from "./api";

/** What film to buy for what is booked, and where film went. */
export function FilmListsPage() {
  const buy = useQuery(purchaseQuery());
  const used = useQuery(usedQuery());
  if (buy.isPending || used.isPending) return <Pending what="the lists" />;
  if (buy.isError) return <ErrorNote error={buy.error} again={() => void buy.refetch()} />;
  if (used.isError) return <ErrorNote error={used.error} again={() => void used.refetch()} />;
  const short = buy.data.lines.filter((line) => line.short_mm > 0).length;
  const low = buy.data.lines.length - short;
  return (
    <>
      <Head
        buttons={
          <>
            <Button
              component="a"
              variant="contained"
              color="secondary"
              href="/api/rack/purchase.pdf"
              download
            >
              To buy, PDF
            </Button>
            <Button component="a" href="/api/rack/purchase.csv" download>
              CSV
            </Button>
            <Button component="a" href="/api/rack/used.csv" download>
              Film used, CSV
            </Button>
          </>
        }
      >
        <Answer tone={short ? "bad" : "good"} why="From the newest cut plan of every booked job.">
          {short ? `${short} short for what is booked` : "Enough for what is booked"}
          {low ? `, ${low} low` : ""}
        </Answer>
      </Head>
      <ToBuy lines={buy.data.lines} />
      <Used used={used.data} />
    </>
  );
}

function ToBuy({ lines }: { lines: Schemas["PurchaseLine"][] }) {
  const { showLength, showRoll } = useSettings();
  if (lines.length === 0) return <Empty words="No film is short, and none is low." />;
  return (
    <Ruled title="To buy">
      <Table size="small">
        <TableHead>
          <TableRow>
            <TableCell>Film</TableCell>
            <TableCell align="right">Width</TableCell>
            <TableCell align="right">Booked</TableCell>
            <TableCell align="right">Left</TableCell>
            <TableCell align="right">Short</TableCell>
            <TableCell>By</TableCell>
            <TableCell>Jobs</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {lines.map((line) => (
            <TableRow key={`${line.film_id} ${String(line.width_mm)}`}>
              <TableCell sx={{ fontWeight: 700 }}>{line.film_name}</TableCell>
              <TableCell align="right">{showLength(line.width_mm)}</TableCell>
              <TableCell align="right">{showRoll(line.booked_mm)}</TableCell>
              <TableCell align="right">{showRoll(line.left_mm)}</TableCell>
              <TableCell align="right" sx={{ fontWeight: 700 }}>
                {line.short_mm > 0 ? showRoll(line.short_mm) : "low"}
              </TableCell>
              <TableCell>{line.by_day ?? ""}</TableCell>
              <TableCell>{line.jobs.join(", ")}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Ruled>
  );
}

function Used({ used }: { used: Schemas["UsedOut"] }) {
  const { showRoll } = useSettings();
  if (used.lines.length === 0)
    return <Empty words="No job has taken film off the rack yet. What is booked at Cut stands here." />;
  const share = used.taken_mm ? (100 * used.waste_mm) / used.taken_mm : 0;
  return (
    <Ruled title="Film used and wasted">
      <Typography sx={{ mb: 1 }}>
        {showRoll(used.taken_mm)} off the rack for {showMoney(used.cost)}; {share.toFixed(0)} % of it waste.
      </Typography>
      <Table size="small">
        <TableHead>
          <TableRow>
            <TableCell>Job</TableCell>
            <TableCell>Day</TableCell>
            <TableCell>Film, from</TableCell>
            <TableCell align="right">Taken</TableCell>
            <TableCell align="right">On the car</TableCell>
            <TableCell align="right">Kept</TableCell>
            <TableCell align="right">Waste</TableCell>
            <TableCell align="right">$</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {used.lines.map((line, i) => (
            <TableRow key={i}>
              <TableCell>
                <Link to={`/jobs/${line.job_id}/cut`}>
                  {line.job_number} {line.job_title}
                </Link>
              </TableCell>
              <TableCell>{line.on_day}</TableCell>
              <TableCell>
                {line.film_name}, {line.stock}
                {line.lot && `, lot ${line.lot}`}
              </TableCell>
              <TableCell align="right">{showRoll(line.taken_mm)}</TableCell>
              <TableCell align="right">{showRoll(line.used_mm)}</TableCell>
              <TableCell align="right">{showRoll(line.kept_mm)}</TableCell>
              <TableCell align="right">{showRoll(line.waste_mm)}</TableCell>
              <TableCell align="right">{line.cost.toFixed(2)}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Ruled>
  );
}

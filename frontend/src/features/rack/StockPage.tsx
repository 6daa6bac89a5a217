import { Box, Button, Table, TableBody, TableCell, TableHead, TableRow, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { rackQuery } from "../../api/queries";
import { WORDS } from "../../api/words";
import {
  Answer,
  Empty,
  ErrorNote,
  Figure,
  Head,
  Pending,
  Row,
  Ruled,
  showMoney,
  TwoColumns,
  useArchive,
  useHome,
  useLeads,
  useSettings,
} from "../../shared";
import { stockQuery } from "./api";
import { BinDialog } from "./components/BinDialog";
import { Recount } from "./components/Recount";
import { SlitDialog } from "./components/SlitDialog";
import { StockDialog } from "./components/StockDialog";

type Page = Schemas["StockPage"];

const KIND: Record<string, string> = {
  received: "received",
  used: "on cars",
  waste: "waste",
  kept: "kept as offcut or slit",
  corrected: "corrected",
};

/** One roll, offcut or sheet: what is left and free of it, its ledger, and what it can become. */
export function StockPage() {
  const { stockId = "" } = useParams();
  const page = useQuery(stockQuery(stockId));
  if (page.isPending) return <Pending what="this piece of stock" />;
  if (page.isError) return <ErrorNote error={page.error} again={() => void page.refetch()} />;
  return <Shown page={page.data} />;
}

function Shown({ page }: { page: Page }) {
  const { stock } = page;
  const { showLength, showRoll } = useSettings();
  const home = useHome();
  const left = stock.held_mm > 0 ? `${showRoll(stock.length_left_mm)} left` : "";
  const answer = page.removed
    ? `${stock.label} is off the rack`
    : `${stock.label}: ${showRoll(stock.free_mm)} free`;
  const told = [
    page.film_name,
    `${showLength(stock.width_mm)} wide`,
    left,
    !home && `lot ${stock.lot || "not on file"}`,
    WORDS.LinerSide[stock.liner],
    stock.place && `at ${stock.place}`,
    stock.code,
  ];
  return (
    <>
      <Head buttons={page.removed ? <PutBack page={page} /> : <Buttons page={page} />}>
        <Answer why={told.filter(Boolean).join(" · ")}>{answer}</Answer>
      </Head>
      <Balance page={page} />
      <TwoColumns shares="1.4fr 1fr">
        <Movements page={page} />
        <Box>
          <Holds page={page} />
          <Become page={page} />
          {stock.kind === "roll" && !page.removed && <Recount page={page} />}
        </Box>
      </TwoColumns>
    </>
  );
}

function Buttons({ page }: { page: Page }) {
  const { stock } = page;
  const rack = useQuery(rackQuery());
  const [open, setOpen] = useState<"change" | "slit" | "bin" | null>(null);
  const close = () => setOpen(null);
  return (
    <>
      <Button
        component="a"
        variant="contained"
        color="secondary"
        href={`/api/labels.pdf?ids=${stock.id}&on=roll`}
        download
      >
        Label
      </Button>
      <Button onClick={() => setOpen("change")} disabled={!rack.data}>
        Change or correct
      </Button>
      {stock.kind === "roll" && stock.slittable && <Button onClick={() => setOpen("slit")}>Slit</Button>}
      <Button variant="text" onClick={() => setOpen("bin")}>
        Throw away
      </Button>
      {open === "change" && rack.data && <StockDialog rack={rack.data} item={stock} onClose={close} />}
      {open === "slit" && <SlitDialog item={stock} onClose={close} />}
      {open === "bin" && <BinDialog item={stock} onClose={close} />}
    </>
  );
}

function PutBack({ page }: { page: Page }) {
  const { restore } = useArchive("stock");
  const lead = useLeads();
  if (page.balance.left_mm <= 0)
    return (
      <Button component={Link} to="/rack">
        Rack
      </Button>
    );
  return (
    <Button disabled={!lead} onClick={() => restore(page.stock.id, page.stock.version, page.stock.label)}>
      Put it back on the rack
    </Button>
  );
}

/** Received = used + waste + kept + left: drawn to scale, and in words. */
function Balance({ page }: { page: Page }) {
  const { showRoll } = useSettings();
  const { received_mm, used_mm, waste_mm, kept_mm, left_mm } = page.balance;
  const { held_mm, price_per_m2, received_on, opened_on } = page.stock;
  return (
    <Row gap={3}>
      <Figure words="received" value={showRoll(received_mm)} />
      <Typography aria-hidden>=</Typography>
      <Figure words="on cars" value={showRoll(used_mm)} />
      <Typography aria-hidden>+</Typography>
      <Figure words="waste" value={showRoll(waste_mm)} />
      <Typography aria-hidden>+</Typography>
      <Figure words="kept" value={showRoll(kept_mm)} />
      <Typography aria-hidden>+</Typography>
      <Figure words={held_mm > 0 ? `left, ${showRoll(held_mm)} held` : "left"} value={showRoll(left_mm)} />
      {price_per_m2 !== null && <Figure words="price" value={`${showMoney(price_per_m2)}/m²`} />}
      {received_on && <Figure words="came" value={received_on} />}
      {opened_on && <Figure words="opened" value={opened_on} />}
    </Row>
  );
}

function Movements({ page }: { page: Page }) {
  const { showRoll } = useSettings();
  return (
    <Ruled title="Ledger">
      <Table size="small">
        <TableHead>
          <TableRow>
            <TableCell>When</TableCell>
            <TableCell align="right">Length</TableCell>
            <TableCell>What</TableCell>
            <TableCell>Who</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {page.movements.map((one, i) => (
            <TableRow key={i}>
              <TableCell>{one.at.slice(0, 10)}</TableCell>
              <TableCell align="right" sx={{ whiteSpace: "nowrap" }}>
                {one.length_mm < 0 ? "−" : "+"}
                {showRoll(Math.abs(one.length_mm))}
              </TableCell>
              <TableCell>
                {KIND[one.kind] ?? one.kind}
                {one.note && `: ${one.note}`}{" "}
                {one.job_id && <Link to={`/jobs/${one.job_id}/cut`}>job {one.job_number}</Link>}
              </TableCell>
              <TableCell>{one.person}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Ruled>
  );
}

function Holds({ page }: { page: Page }) {
  const { showRoll } = useSettings();
  if (page.holds.length === 0) return null;
  return (
    <Ruled title="Held">
      {page.holds.map((one) => (
        <Typography key={one.job_id}>
          <b>{showRoll(one.length_mm)}</b> for{" "}
          <Link to={`/jobs/${one.job_id}/cut`}>
            job {one.job_number}, {one.job_title}
          </Link>{" "}
          until {one.until}, by {one.person}
        </Typography>
      ))}
    </Ruled>
  );
}

function Become({ page }: { page: Page }) {
  if (page.removed) return null;
  return (
    <Ruled title="What can still be cut from it">
      {page.old && (
        <Typography color="error.main" sx={{ fontWeight: 700 }}>
          It has lain long and fits nothing booked: proposed for the bin.
        </Typography>
      )}
      {page.could_become.length === 0 && <Empty words="Nothing booked, no strip and no quarter window." />}
      {page.could_become.map((one, i) => (
        <Typography key={i}>
          {one.job_id ? <Link to={`/jobs/${one.job_id}/cut`}>{one.words}</Link> : one.words}
        </Typography>
      ))}
    </Ruled>
  );
}

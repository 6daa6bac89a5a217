import {
  Alert,
  Box,
  Button,
  Table,
  TableBody,
  TableCell,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Job } from "../../../api/client";
import { Answer, Empty, ErrorNote, Pending, Row, Ruled, TwoColumns } from "../../../shared";
import { SignOff } from "../components/handover/SignOff";
import { quoteQuery, useAcceptQuote, useOffer, type Quote } from "../handover";

const dollars = (value: number) => `${value < 0 ? "-" : ""}$${Math.abs(value).toFixed(2)}`;

/** What the car costs as it stands, what was offered and accepted, and what a later wish changes. */
export function QuoteStation({ job }: { job: Job }) {
  const found = useQuery(quoteQuery(job.id, job.input_hash));
  if (!found.data)
    return found.isError ? (
      <ErrorNote error={found.error} again={() => void found.refetch()} />
    ) : (
      <Pending what="the quote" />
    );
  return <Standing job={job} quote={found.data} />;
}

type Own = Quote["own_lines"];

function Standing({ job, quote }: { job: Job; quote: Quote }) {
  const [typed, setTyped] = useState<Own | null>(null);
  const own = typed ?? quote.own_lines;
  const changed = quote.accepted !== null && quote.differs.length > 0;
  return (
    <>
      <Answer tone={changed ? "bad" : quote.accepted !== null ? "good" : "open"}>{quote.headline}</Answer>
      {quote.starting_prices && (
        <Alert
          severity={quote.ask_owner ? "warning" : "info"}
          sx={{ mb: 1 }}
          action={
            <Button color="inherit" component={Link} to="/shop/prices">
              Look at them
            </Button>
          }
        >
          Starting prices, not yours yet.{" "}
          {quote.ask_owner && "An owner says yes to them, or writes your own, before the first offer."}
        </Alert>
      )}
      <TwoColumns shares="1.25fr 1fr">
        <Lines quote={quote} own={own} onOwn={setTyped} job={job} />
        <Box>
          <Offer job={job} quote={quote} own={own} onOwn={setTyped} />
          <Accept job={job} quote={quote} />
          <Versions quote={quote} />
        </Box>
      </TwoColumns>
    </>
  );
}

function Lines({ job, quote, own, onOwn }: { job: Job; quote: Quote; own: Own; onOwn: (own: Own) => void }) {
  const lines = quote.lines.filter((one) => one.kind !== "own" && one.kind !== "tax");
  const tax = quote.lines.find((one) => one.kind === "tax");
  if (quote.lines.length === 0 && own.length === 0)
    return (
      <Empty words="Choose films at Shade: each window is priced by its kind and film.">
        <Button component={Link} to={`/jobs/${job.id}/shade`}>
          Shade
        </Button>
      </Empty>
    );
  return (
    <Ruled
      title="As the car stands"
      action={
        <Button size="small" variant="text" component={Link} to="/shop/prices">
          Price list
        </Button>
      }
    >
      <Table size="small" aria-label="Lines">
        <TableBody>
          {lines.map((one) => (
            <TableRow key={one.key} title={one.why}>
              <TableCell>
                {one.words}
                {one.kind === "extra" && (
                  <Typography variant="body2" color="text.secondary">
                    {one.why}
                  </Typography>
                )}
              </TableCell>
              <TableCell align="right">{dollars(one.dollars)}</TableCell>
            </TableRow>
          ))}
          {own.map((one, i) => (
            <TableRow key={`own${String(i)}`}>
              <TableCell>
                {one.words}{" "}
                <Button size="small" variant="text" onClick={() => onOwn(own.filter((_, at) => at !== i))}>
                  Take out
                </Button>
              </TableCell>
              <TableCell align="right">{dollars(one.dollars)}</TableCell>
            </TableRow>
          ))}
          {tax && (
            <TableRow>
              <TableCell>{tax.words}</TableCell>
              <TableCell align="right">{dollars(tax.dollars)}</TableCell>
            </TableRow>
          )}
        </TableBody>
      </Table>
      {quote.films.map((words) => (
        <Typography key={words} color="text.secondary" sx={{ mt: 0.5 }}>
          {words}
        </Typography>
      ))}
      {quote.caution && <Typography sx={{ mt: 0.5, fontWeight: 700 }}>{quote.caution}</Typography>}
    </Ruled>
  );
}

interface Typing {
  job: Job;
  quote: Quote;
  own: Own;
  /** Lines as somebody typed them; none typed any more once they are offered. */
  onOwn: (own: Own | null) => void;
}

/** A line of one's own, a note, and the offer: what is offered is never changed, the next one is a version more. */
function Offer({ job, quote, own, onOwn }: Typing) {
  const offer = useOffer(job);
  const [words, setWords] = useState("");
  const [amount, setAmount] = useState("");
  const [note, setNote] = useState("");
  const value = Number(amount.replace("$", ""));
  const wrong = amount.trim() !== "" && Number.isNaN(value);
  const number = (quote.versions[0]?.number ?? 0) + 1;
  const touched = JSON.stringify(own) !== JSON.stringify(quote.own_lines);
  const offered = () => {
    onOwn(null);
    setNote("");
  };
  const anything = quote.versions.length === 0 || quote.differs.length > 0 || touched;
  if (quote.lines.length === 0 && own.length === 0) return null;
  return (
    <Ruled title={anything ? `Version ${String(number)}` : "Nothing changed since"}>
      {quote.differs.map((one) => (
        <Typography key={one} sx={{ fontWeight: 700 }}>
          Δ {one}
        </Typography>
      ))}
      {quote.change && <Typography sx={{ fontWeight: 700 }}>The change: {quote.change}.</Typography>}
      <Row>
        <TextField
          label="A line of your own"
          value={words}
          onChange={(event) => setWords(event.target.value)}
          sx={{ flexGrow: 1 }}
        />
        <TextField
          label="$, minus takes off"
          value={amount}
          error={wrong}
          onChange={(event) => setAmount(event.target.value)}
          sx={{ width: 150 }}
        />
        <Button
          disabled={words.trim() === "" || amount.trim() === "" || wrong}
          onClick={() => {
            onOwn([...own, { words: words.trim(), dollars: value }]);
            setWords("");
            setAmount("");
          }}
        >
          Add
        </Button>
      </Row>
      <Row>
        <TextField
          label="Note on it"
          value={note}
          onChange={(event) => setNote(event.target.value)}
          sx={{ flexGrow: 1, mt: 1 }}
        />
        <Button
          variant="contained"
          disabled={offer.pending || !anything || quote.ask_owner}
          onClick={() => offer.write({ own_lines: own, note }, { onSuccess: offered })}
          sx={{ minHeight: 52, mt: 1 }}
        >
          Offer this
        </Button>
      </Row>
      {offer.error && <ErrorNote error={offer.error} />}
    </Ruled>
  );
}

function Accept({ job, quote }: { job: Job; quote: Quote }) {
  const accept = useAcceptQuote(job.id);
  const open = quote.versions.find((one) => one.status === "offered" && !one.too_old);
  if (!open) return null;
  return (
    <Ruled title={`Accept version ${String(open.number)}, ${dollars(open.total)}`}>
      {open.told.map((one) => (
        <Typography key={one}>Δ {one}</Typography>
      ))}
      <Typography sx={{ mb: 1 }}>
        Cut and Bay work from what is accepted; a later wish is priced first.
      </Typography>
      <SignOff
        name={quote.customer}
        words="Accepted"
        ways={["paper", "spoken"]}
        pending={accept.pending}
        error={accept.error}
        onSign={(name, how, signature) =>
          accept.write({ quoteId: open.id, body: { version: open.version, name, how, signature } })
        }
      />
    </Ruled>
  );
}

const STATUS = { offered: "offered", accepted: "accepted", replaced: "replaced" } as const;

const DAY = new Intl.DateTimeFormat("en-US", { month: "short", day: "numeric", year: "numeric" });

function Versions({ quote }: { quote: Quote }) {
  if (quote.versions.length === 0) return null;
  return (
    <Ruled title="Versions">
      {quote.versions.map((one) => (
        <Box key={one.id} sx={{ borderBottom: 1, borderColor: "divider", py: 0.5 }} data-version={one.number}>
          <Row>
            <Typography sx={{ fontWeight: 700 }}>
              {one.number} · {dollars(one.total)} · {STATUS[one.status]}
              {one.accepted_by && ` by ${one.accepted_by}`}
            </Typography>
            <Typography color={one.too_old ? "error.main" : "text.secondary"}>
              Quote {one.called} · {DAY.format(new Date(one.at))}
              {one.valid_until && ` · valid until ${DAY.format(new Date(`${one.valid_until}T12:00:00`))}`}
            </Typography>
            <Button
              size="small"
              variant="text"
              component="a"
              href={`/api/quotes/${one.id}/paper.pdf`}
              target="_blank"
              rel="noreferrer"
            >
              Print
            </Button>
          </Row>
          {one.told.map((words) => (
            <Typography key={words} color="text.secondary">
              Δ {words}
            </Typography>
          ))}
        </Box>
      ))}
    </Ruled>
  );
}

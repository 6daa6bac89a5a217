import { Box, Button, Checkbox, FormControlLabel, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { WORDS } from "../../api/words";
import { sessionQuery } from "../../api/queries";
import { Answer, ErrorNote, Pending, Row, Ruled, TwoColumns, useDraft, useNotify } from "../../shared";
import { pricesQuery, useSetPrices, useStartingPrices, type Prices } from "./api";

/** What windows cost by kind and film, and what comes on top. */
export function PricesPage() {
  const found = useQuery(pricesQuery());
  if (found.isPending) return <Pending what="the price list" />;
  if (found.isError) return <ErrorNote error={found.error} again={() => void found.refetch()} />;
  return <List prices={found.data} />;
}

function List({ prices }: { prices: Prices }) {
  const set = useSetPrices();
  const notify = useNotify();
  const owner = useQuery(sessionQuery()).data?.person?.role === "owner";
  const start = useStartingPrices();
  const { strip, minute, tax_percent } = prices;
  const [taxing, setTaxing] = useState<Taxing | null>(null);
  const { taxed, tax_by_line } = taxing ?? prices;
  const windows = useDraft(asText(prices.windows));
  const films = useDraft(asText(prices.films));
  const rest = useDraft(asText({ strip, minute, tax_percent }));
  const groups = [windows, films, rest];
  const bad = groups.some(({ fields }) => Object.values(fields).some((one) => isWrong(one)));
  const keep = () =>
    set.write(
      {
        windows: asNumbers(windows.fields),
        films: asNumbers(films.fields),
        own_films: prices.own_films,
        strip: Number(rest.fields["strip"]),
        minute: Number(rest.fields["minute"]),
        tax_percent: Number(rest.fields["tax_percent"]),
        taxed,
        tax_by_line,
        version: prices.version,
      },
      {
        onSuccess: () => {
          setTaxing(null);
          for (const group of groups) group.kept(group.fields);
          notify("The price list is kept. Quotes that were offered stay as they are.");
        },
      },
    );
  return (
    <>
      <Answer why="A quote takes the window’s price times the film’s factor; further minutes that the survey found come on top.">
        {prices.own ? "The shop’s price list" : "Starting prices, not yours yet"}
      </Answer>
      {!prices.own && (
        <Box sx={{ mb: 2 }}>
          {owner ? (
            <Button
              variant="contained"
              disabled={start.pending}
              onClick={() => start.write({ version: prices.version })}
              sx={{ minHeight: 52 }}
            >
              Yes, these are our prices
            </Button>
          ) : (
            <Typography>
              Before the first offer an owner says yes to them here, or a lead writes your own.
            </Typography>
          )}
          {start.error && <ErrorNote error={start.error} />}
        </Box>
      )}
      <TwoColumns>
        <Ruled title="A whole pane with the plainest film, $">
          <Numbers values={windows.fields} words={WORDS.WindowKind} onChange={windows.set} />
        </Ruled>
        <Box>
          <Ruled title="Times, by kind of film">
            <Numbers values={films.fields} words={WORDS.Construction} onChange={films.set} />
          </Ruled>
          <Ruled title="Besides">
            <Numbers
              values={rest.fields}
              words={{ strip: "sun strip, $", minute: "a minute of further work, $", tax_percent: "tax, %" }}
              onChange={rest.set}
            />
          </Ruled>
          <Ruled title="Taxed">
            <Row>
              {KINDS.map((kind) => (
                <Ticked
                  key={kind}
                  label={TAXED[kind]}
                  checked={taxed.includes(kind)}
                  onChange={(on) =>
                    setTaxing({
                      taxed: KINDS.filter((one) => (one === kind ? on : taxed.includes(one))),
                      tax_by_line,
                    })
                  }
                />
              ))}
            </Row>
            <Ticked
              label="Round the tax of each line, not of the sum"
              checked={tax_by_line}
              onChange={(on) => setTaxing({ taxed, tax_by_line: on })}
            />
            <Typography color="text.secondary">
              Labor often is not taxed; your state says. What you take off is shared by all lines.
            </Typography>
          </Ruled>
          <Button variant="contained" disabled={bad || set.pending} onClick={keep} sx={{ minHeight: 52 }}>
            Keep the prices
          </Button>
          {set.error && <ErrorNote error={set.error} />}
          <Typography color="text.secondary" sx={{ mt: 1 }}>
            A lead or an owner writes prices.
          </Typography>
        </Box>
      </TwoColumns>
    </>
  );
}

type Taxing = Pick<Prices, "taxed" | "tax_by_line">;

const TAXED = { film: "film", removal: "removal", extra: "further work", own: "lines of your own" } as const;
const KINDS = ["film", "removal", "extra", "own"] as const;

function Ticked({
  label,
  checked,
  onChange,
}: {
  label: string;
  checked: boolean;
  onChange: (on: boolean) => void;
}) {
  return (
    <FormControlLabel
      label={label}
      control={<Checkbox checked={checked} onChange={(_, on) => onChange(on)} />}
    />
  );
}

type Texts = Record<string, string>;

const asText = (values: Record<string, number>): Texts =>
  Object.fromEntries(Object.entries(values).map(([name, one]) => [name, String(one)]));
const asNumbers = (texts: Texts) =>
  Object.fromEntries(Object.entries(texts).map(([name, one]) => [name, Number(one)]));
const isWrong = (text: string) => text.trim() === "" || !(Number(text) >= 0);

function Numbers({
  values,
  words,
  onChange,
}: {
  values: Texts;
  words: Readonly<Record<string, string>>;
  onChange: (values: Texts) => void;
}) {
  return (
    <Box
      sx={{ display: "grid", gridTemplateColumns: "repeat(auto-fill, minmax(150px, 1fr))", gap: 1.5, mt: 1 }}
    >
      {Object.entries(values).map(([name, value]) => (
        <TextField
          key={name}
          label={words[name] ?? name}
          value={value}
          error={isWrong(value)}
          onChange={(event) => onChange({ [name]: event.target.value })}
          slotProps={{ htmlInput: { inputMode: "decimal" } }}
        />
      ))}
    </Box>
  );
}

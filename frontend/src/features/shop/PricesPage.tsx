import { Box, Button, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { WORDS } from "../../api/words";
import { Answer, ErrorNote, Pending, Ruled, TwoColumns, useDraft, useNotify } from "../../shared";
import { pricesQuery, useSetPrices, type Prices } from "./api";

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
  const { strip, minute, tax_percent } = prices;
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
        version: prices.version,
      },
      {
        onSuccess: () => {
          for (const group of groups) group.kept(group.fields);
          notify("The price list is kept. Quotes that were offered stay as they are.");
        },
      },
    );
  return (
    <>
      <Answer why="A quote takes the window’s price times the film’s factor; further minutes that the survey found come on top.">
        {prices.own ? "The shop’s price list" : "Our prices, until the shop writes its own"}
      </Answer>
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
          <Button variant="contained" disabled={bad || set.pending} onClick={keep} sx={{ minHeight: 52 }}>
            Keep the prices
          </Button>
          {set.error && <ErrorNote error={set.error} />}
          <Typography color="text.secondary" sx={{ mt: 1 }}>
            Only the lead writes prices.
          </Typography>
        </Box>
      </TwoColumns>
    </>
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

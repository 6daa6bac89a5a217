import {
  Button,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { WORDS } from "../../api/words";
import { Answer, Choice, ErrorNote, Pending, Row, Switch, useDraft, useNotify } from "../../shared";
import { flawKindsQuery, standardQuery, useSetStandard, type Standard } from "./api";

type Rule = Standard["rules"][number];

/** What counts as good here: so many flaws of a kind, so large, in a zone, per window or per car. */
export function StandardPage() {
  const found = useQuery(standardQuery());
  const kinds = useQuery(flawKindsQuery());
  if (found.isPending || kinds.isPending) return <Pending what="the standard" />;
  const error = found.error ?? kinds.error;
  if (error) return <ErrorNote error={error} again={() => void found.refetch()} />;
  const words = Object.fromEntries((kinds.data ?? []).map((one) => [one.id, one.words]));
  return found.data ? <Written standard={found.data} words={words} /> : null;
}

function Written({ standard, words }: { standard: Standard; words: Record<string, string> }) {
  const set = useSetStandard();
  const notify = useNotify();
  const draft = useDraft<{ unit: Standard["unit"]; rules: readonly Rule[] }>({
    unit: standard.unit,
    rules: standard.rules,
  });
  const { unit, rules } = draft.fields;
  const setRules = (changed: readonly Rule[]) => draft.set({ rules: changed });
  const change = (at: number, over: Partial<Rule>) =>
    setRules(rules.map((rule, i) => (i === at ? { ...rule, ...over } : rule)));
  const keep = (kept: readonly Rule[]) =>
    set.write(
      { unit, rules: [...kept], version: standard.version },
      {
        onSuccess: () => {
          draft.kept(draft.fields);
          notify(kept.length ? "The standard is kept." : "Our standard holds again.");
        },
      },
    );
  const first = Object.keys(words)[0] ?? "speck";
  return (
    <>
      <Answer why="Look judges by it: what it does not name may not stay. A size that nobody read never counts as small.">
        {standard.own ? "The shop’s written standard" : "Our standard, until the shop writes its own"}
      </Answer>
      <Row>
        <Typography>Counted per</Typography>
        <Switch
          label="Counted per"
          value={unit}
          options={WORDS.Unit}
          onChange={(chosen) => draft.set({ unit: chosen })}
        />
      </Row>
      <Table size="small" aria-label="What may stay">
        <TableHead>
          <TableRow>
            {["Flaw", "Where", "So many", "Up to, mm", ""].map((one) => (
              <TableCell key={one}>{one}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {rules.map((rule, i) => (
            <TableRow key={i}>
              <TableCell>
                <Choice
                  label="Flaw"
                  value={rule.kind}
                  options={words}
                  onChange={(kind) => change(i, { kind })}
                  sx={{ minWidth: 230 }}
                />
              </TableCell>
              <TableCell>
                <Choice
                  label="Where"
                  value={rule.zone}
                  options={WORDS.Zone}
                  onChange={(zone) => change(i, { zone })}
                  sx={{ minWidth: 140 }}
                />
              </TableCell>
              <TableCell>
                <TextField
                  label="So many"
                  type="number"
                  value={rule.most}
                  onChange={(event) =>
                    change(i, { most: Math.min(50, Math.max(0, Number(event.target.value))) })
                  }
                  sx={{ width: 100 }}
                />
              </TableCell>
              <TableCell>
                <TextField
                  label="Up to, mm"
                  type="number"
                  value={rule.mm}
                  onChange={(event) =>
                    change(i, { mm: Math.min(1000, Math.max(0, Number(event.target.value))) })
                  }
                  sx={{ width: 110 }}
                />
              </TableCell>
              <TableCell>
                <Button
                  size="small"
                  variant="text"
                  onClick={() => setRules(rules.filter((_, at) => at !== i))}
                >
                  Take out
                </Button>
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <Row>
        <Button
          onClick={() => setRules([...rules, { kind: first, zone: "edge", most: 1, mm: 1 }])}
          sx={{ mt: 1 }}
        >
          Another rule
        </Button>
        <Button
          variant="contained"
          disabled={set.pending || rules.length === 0}
          onClick={() => keep(rules)}
          sx={{ mt: 1 }}
        >
          Keep the standard
        </Button>
        {standard.own && (
          <Button variant="text" disabled={set.pending} onClick={() => keep([])} sx={{ mt: 1 }}>
            Back to ours
          </Button>
        )}
      </Row>
      {set.error && <ErrorNote error={set.error} />}
    </>
  );
}

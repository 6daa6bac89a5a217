import {
  Box,
  Button,
  Checkbox,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { Problem } from "../../api/unwrap";
import { Answer, counted, ErrorNote, Head, Pending, Row, useNotify } from "../../shared";
import { ruleQuery, useConfirm, type Rule, type RuleField } from "./api";
import { FieldDialog } from "./components/FieldDialog";
import { decidingFirst } from "./logic/confirm";

/** A state read through in one sitting: tick what the statute says as on file, change what it says otherwise. */
export function ConfirmPage() {
  const { code = "" } = useParams();
  const rule = useQuery(ruleQuery(code));
  if (rule.isPending) return <Pending what="the record" />;
  if (rule.isError) return <ErrorNote error={rule.error} again={() => void rule.refetch()} />;
  return <Sitting key={code} rule={rule.data} />;
}

function Sitting({ rule }: { rule: Rule }) {
  const confirm = useConfirm(rule.code);
  const notify = useNotify();
  // As they stood when they were ticked: nobody confirms what another put there since.
  const [ticked, setTicked] = useState<ReadonlyMap<string, RuleField>>(new Map());
  const [citation, setCitation] = useState("");
  const [from, setFrom] = useState("");
  const [opened, setOpened] = useState<RuleField | null>(null);
  const rows = decidingFirst(rule.fields);
  const open = rows.filter((field) => field.unconfirmed);
  const fields = confirm.error instanceof Problem ? confirm.error.fields : {};
  const tick = (field: RuleField, on: boolean) =>
    setTicked((before) => {
      const next = new Map(before);
      if (on) next.set(field.path, field);
      else next.delete(field.path);
      return next;
    });
  const send = () =>
    confirm.write(
      {
        citation,
        effective_from: from,
        fields: [...ticked.values()].map((field) => ({
          field: field.path,
          value: field.value,
          replaces: field.source?.word_id ?? null,
        })),
        sure: true,
      },
      {
        onSuccess: () => {
          notify(`${counted(ticked.size, "field")} of ${rule.name} confirmed.`);
          setTicked((now) => new Map([...now].filter(([path, field]) => ticked.get(path) !== field)));
        },
      },
    );
  return (
    <>
      <Head
        buttons={
          <>
            <Button onClick={() => window.print()}>Sheet to print and sign</Button>
            <Button component={Link} to={`/rules/${rule.code}`}>
              The record
            </Button>
          </>
        }
      >
        <Answer
          tone={open.length ? "open" : "good"}
          why={`${rule.statute}. Compiled ${rule.compiled}; ${
            rule.confirmed_on
              ? `last looked at by this shop ${rule.confirmed_on}`
              : "never looked at by this shop"
          }.`}
        >
          {open.length
            ? `${rule.name}: ${counted(open.length, "field")} to confirm`
            : `${rule.name} is confirmed`}
        </Answer>
      </Head>
      {rule.stale && (
        <Typography
          role="status"
          sx={{ bgcolor: "secondary.main", color: "secondary.contrastText", p: 1, mb: 1 }}
        >
          The last look is more than twelve months ago: read it again.
        </Typography>
      )}
      <Box
        sx={{
          "@media print": { display: "none" },
          position: "sticky",
          top: 0,
          zIndex: 2,
          py: 1,
          bgcolor: "background.default",
        }}
      >
        <Row>
          <TextField
            label="Where it stands, for all that is ticked"
            value={citation}
            onChange={(event) => setCitation(event.target.value)}
            error={Boolean(fields["citation"])}
            helperText={fields["citation"] ?? "Section and page, or who said so and when"}
            sx={{ flex: "1 1 320px" }}
          />
          <TextField
            type="date"
            label="Holds from"
            value={from}
            onChange={(event) => setFrom(event.target.value)}
            error={Boolean(fields["effective_from"])}
            helperText={fields["effective_from"] ?? "empty: since ever"}
            slotProps={{ inputLabel: { shrink: true } }}
          />
          <Button
            variant="contained"
            color="secondary"
            size="large"
            disabled={ticked.size === 0 || citation.trim() === "" || confirm.pending}
            onClick={send}
          >
            Confirm {ticked.size} ticked
          </Button>
        </Row>
        {confirm.error && <ErrorNote error={confirm.error} />}
      </Box>
      <Box sx={{ overflowX: "auto" }}>
        <Table size="small" aria-label={`Fields of ${rule.name}`}>
          <TableHead>
            <TableRow>
              <TableCell sx={{ width: 64 }}>Read so</TableCell>
              <TableCell>Field</TableCell>
              <TableCell>On file</TableCell>
              <TableCell>Standing</TableCell>
              <TableCell sx={{ "@media screen": { display: "none" }, width: "38%" }}>
                The statute’s words
              </TableCell>
              <TableCell sx={{ "@media print": { display: "none" } }} />
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.map((field) => (
              <TableRow key={field.path} data-field={field.path} sx={{ "@media print": { height: 54 } }}>
                <TableCell>
                  <Checkbox
                    checked={ticked.has(field.path)}
                    onChange={(_, on) => tick(field, on)}
                    slotProps={{ input: { "aria-label": `${field.label} reads so` } }}
                  />
                </TableCell>
                <TableCell>{field.label}</TableCell>
                <TableCell sx={{ fontWeight: 700 }}>
                  {field.words}
                  {field.disputed.length > 0 && !field.source && (
                    <Typography variant="body2">two readings: {field.disputed.join(" or ")}</Typography>
                  )}
                </TableCell>
                <TableCell>
                  {field.source
                    ? `${field.source.overruled ? "the shop’s own" : "confirmed"}, ${field.source.person}, ${field.source.at}`
                    : field.unconfirmed
                      ? "unconfirmed"
                      : "as compiled"}
                </TableCell>
                <TableCell sx={{ "@media screen": { display: "none" } }} />
                <TableCell align="right" sx={{ "@media print": { display: "none" } }}>
                  <Button
                    size="small"
                    onClick={() => setOpened(field)}
                    aria-label={`It says otherwise: ${field.label}`}
                  >
                    It says otherwise
                  </Button>
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </Box>
      <Typography sx={{ "@media screen": { display: "none" }, mt: 3 }}>
        Read by ______________________ on ______________ in ________________________________ Signed
        ______________________
      </Typography>
      {opened && <FieldDialog key={opened.path} rule={rule} field={opened} onClose={() => setOpened(null)} />}
    </>
  );
}

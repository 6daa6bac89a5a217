import {
  Box,
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
import { useState } from "react";
import { Link } from "react-router";
import { Answer, Empty, ErrorNote, FileButton, Pending, useNotify } from "../../shared";
import { ruleBookQuery } from "../../api/queries";
import { useTakeInFile } from "./api";

/** Every jurisdiction, how sure its record is, and what the shop has said of it. */
export function RulesPage() {
  const book = useQuery(ruleBookQuery());
  const [search, setSearch] = useState("");
  const takeIn = useTakeInFile();
  const notify = useNotify();
  if (book.isPending) return <Pending what="the rule book" />;
  if (book.isError) return <ErrorNote error={book.error} again={() => void book.refetch()} />;
  const { states, version, day, revision, own_file: own } = book.data;
  const shown = states.filter((state) =>
    `${state.name} ${state.code} ${state.statute}`.toLowerCase().includes(search.toLowerCase()),
  );
  const unconfirmed = states.reduce((sum, state) => sum + state.unconfirmed, 0);
  return (
    <>
      <Answer
        why={`Version ${version}${own ? ", the shop’s own file" : ", a starting set from memory"}, as on ${day}${revision > 0 ? `, the shop’s revision ${String(revision)}` : ""}. ${String(unconfirmed)} fields still wait for somebody to look them up. It informs; it is not legal advice.`}
      >
        Rule book: {states.length} jurisdictions
      </Answer>
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap", mb: 1.5, alignItems: "center" }}>
        <TextField
          label="Search state or statute"
          value={search}
          onChange={(event) => {
            setSearch(event.target.value);
          }}
        />
        <Button component={Link} to="/look-up" variant="contained" color="secondary">
          Look up one window
        </Button>
        <Button component="a" href="/api/rules/file" download>
          Save the book as a file
        </Button>
        <FileButton
          words="Take in a law file"
          label="Law file"
          disabled={takeIn.pending}
          onChosen={(file) => {
            takeIn.write(file, {
              onSuccess: (taken) => {
                notify(
                  `Version ${taken.version} is in use: ${String(taken.states)} jurisdictions, ${String(taken.linked)} linked clauses. Jobs keep what they were judged by until judged again.`,
                );
              },
            });
          }}
        />
      </Box>
      {takeIn.error && <ErrorNote error={takeIn.error} />}
      <Box sx={{ overflowX: "auto", position: "relative" }}>
        <Table size="small" aria-label="Jurisdictions">
          <TableHead>
            <TableRow>
              <TableCell>State</TableCell>
              <TableCell align="right">Front side, car</TableCell>
              <TableCell align="right">Front side, SUV</TableCell>
              <TableCell align="right">Unconfirmed</TableCell>
              <TableCell align="right">Disputed</TableCell>
              <TableCell>The shop’s word</TableCell>
              <TableCell>Memory</TableCell>
              <TableCell>Statute</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {shown.map((state) => (
              <TableRow key={state.code} hover>
                <TableCell sx={{ whiteSpace: "nowrap" }}>
                  <Button variant="text" component={Link} to={`/rules/${state.code}`}>
                    {state.code} · {state.name}
                  </Button>
                </TableCell>
                <TableCell align="right">{state.front_side.passenger}</TableCell>
                <TableCell align="right">{state.front_side.multipurpose}</TableCell>
                <TableCell align="right">
                  {state.unconfirmed} of {state.fields}
                </TableCell>
                <TableCell align="right">{state.disputed || ""}</TableCell>
                <TableCell>
                  {[
                    state.confirmed ? `${String(state.confirmed)} confirmed` : "",
                    state.overruled ? `${String(state.overruled)} overruled` : "",
                    state.confirmed_on
                      ? `${state.stale ? "! over a year ago: " : "last "}${state.confirmed_on}`
                      : "",
                  ]
                    .filter(Boolean)
                    .join(", ")}
                </TableCell>
                <TableCell>{state.confidence}</TableCell>
                <TableCell sx={{ maxWidth: 260 }}>{state.statute}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </Box>
      {shown.length === 0 && <Empty words={`No state has “${search}” in its name or statute.`} />}
      <Typography variant="body2" color="text.secondary" sx={{ mt: 1 }}>
        Memory: how sure the compilation was of the record as a whole.
      </Typography>
    </>
  );
}

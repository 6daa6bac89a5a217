import { Table, TableBody, TableCell, TableContainer, TableHead, TableRow } from "@mui/material";
import { Ruled, Tick, useNotify } from "../../../shared";
import { useSetAlone, type Learner, type Practice } from "../api";

const WORDS = ["snap", "card", "hard"] as const;
const SAYS: Readonly<Record<(typeof WORDS)[number], string>> = {
  snap: "Snap alone",
  card: "Card alone",
  hard: "Hard alone",
};

/** What everybody has shown on the practice glass, and what the lead lets him shrink alone. */
export function Learners({ home }: { home: Practice }) {
  const set = useSetAlone();
  const notify = useNotify();
  const change = (learner: Learner, word: (typeof WORDS)[number], yes: boolean) =>
    set.write(
      {
        id: learner.person_id,
        body: {
          words: WORDS.filter((one) => (one === word ? yes : learner.alone.includes(one))),
          version: home.alone_version,
        },
      },
      { onError: (error) => notify(error.message, { bad: true }) },
    );
  return (
    <Ruled title="Who may shrink what alone">
      <TableContainer>
        <Table size="small" aria-label="Who may shrink what alone">
          <TableHead>
            <TableRow>
              <TableCell>Person</TableCell>
              <TableCell>Passed twice here</TableCell>
              <TableCell align="right">Runs</TableCell>
              {WORDS.map((word) => (
                <TableCell key={word}>{SAYS[word]}</TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {home.learners.map((learner) => (
              <TableRow key={learner.person_id}>
                <TableCell component="th" scope="row">
                  {learner.name}
                </TableCell>
                <TableCell>{learner.shown.length ? learner.shown.join(", ") : "nothing yet"}</TableCell>
                <TableCell align="right">
                  {Object.values(learner.lessons).reduce((sum, one) => sum + one.runs, 0)}
                </TableCell>
                {WORDS.map((word) => (
                  <TableCell key={word}>
                    <Tick
                      of={`${SAYS[word]}, ${learner.name}`}
                      label={learner.alone.includes(word) ? "yes" : "no"}
                      value={learner.alone.includes(word)}
                      disabled={set.pending}
                      onChange={(yes) => change(learner, word, yes)}
                    />
                  </TableCell>
                ))}
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </TableContainer>
    </Ruled>
  );
}

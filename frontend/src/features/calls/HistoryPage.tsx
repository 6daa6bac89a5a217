import { Box, Button, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { WORDS } from "../../api/words";
import { Answer, Choice, ErrorNote, Pending, Row, Ruled, TwoColumns, useNotify } from "../../shared";
import { adviceQuery, historyQuery, useKeepCall, type Advice, type History } from "./api";

/** One window's whole history, and what to tell who calls about it. */
export function HistoryPage() {
  const { windowId = "" } = useParams();
  const found = useQuery(historyQuery(windowId));
  if (found.isPending) return <Pending what="the window’s history" />;
  if (found.isError) return <ErrorNote error={found.error} again={() => void found.refetch()} />;
  return <OfWindow key={windowId} history={found.data} />;
}

function OfWindow({ history }: { history: History }) {
  const [kind, setKind] = useState("");
  const [answers, setAnswers] = useState<Record<string, "yes" | "no">>({});
  const asked = Object.entries(answers)
    .map(([fact, told]) => `${fact}:${told}`)
    .join(",");
  const advice = useQuery(adviceQuery(history.window_id, kind, asked));
  const kinds = Object.fromEntries(history.kinds.map((one) => [one.id, one.words]));
  const told = kind === "" ? undefined : advice.data;
  return (
    <>
      <Answer tone={told ? toneOf(told) : "open"} why={told ? told.reasons.join(" ") : whose(history)}>
        {told ? told.say : `${history.label}: what does the caller see?`}
      </Answer>
      <TwoColumns shares="1fr 1.1fr">
        <Box>
          <Choice
            label="The caller sees"
            value={kind}
            options={{ ...(kind === "" ? { "": "pick one" } : {}), ...kinds }}
            onChange={(chosen) => {
              setKind(chosen);
              setAnswers({});
            }}
            sx={{ minWidth: 300, mb: 1.5 }}
          />
          {told && (
            <Told
              key={kind}
              history={history}
              advice={told}
              kind={kind}
              answers={answers}
              onAnswer={(fact, answer) => setAnswers({ ...answers, [fact]: answer })}
            />
          )}
          {advice.isError && <ErrorNote error={advice.error} />}
          <Ruled title="The car">
            <Typography>{whose(history)}</Typography>
            <Typography>
              {history.film || "no film on file"}, lot {history.lot || "not on record"}
            </Typography>
            <Row>
              <Button component={Link} to={`/jobs/${history.job_id}/look?w=${history.window_id}`}>
                Open the job
              </Button>
              <Button
                component="a"
                href={`/api/jobs/${history.job_id}/papers/record`}
                target="_blank"
                rel="noreferrer"
              >
                Job record, for the maker
              </Button>
            </Row>
          </Ruled>
          {history.photos.length > 0 && (
            <Ruled title="Pictures">
              <Row>
                {history.photos.map((id) => (
                  <a
                    key={id}
                    href={`/api/jobs/${history.job_id}/photos/${id}`}
                    target="_blank"
                    rel="noreferrer"
                  >
                    <img
                      src={`/api/jobs/${history.job_id}/photos/${id}?small=true`}
                      alt={history.label}
                      style={{ height: 90, width: 130, objectFit: "cover" }}
                    />
                  </a>
                ))}
              </Row>
            </Ruled>
          )}
        </Box>
        <Ruled title={`History of ${history.label}`}>
          {history.history.length === 0 && <Typography>Nothing is on record of it.</Typography>}
          {history.history.map((one, i) => (
            <Typography key={i} sx={{ borderBottom: 1, borderColor: "divider", py: 0.25 }}>
              <Box component="span" sx={{ color: "text.secondary", mr: 1 }}>
                {one.at ? one.at.slice(0, 10) : "no day"}
              </Box>
              {one.words}
              {one.person && `, ${one.person}`}
            </Typography>
          ))}
        </Ruled>
      </TwoColumns>
    </>
  );
}

const whose = (history: History) =>
  [history.title, history.customer, history.phone, history.plate, since(history)].filter(Boolean).join(" · ");

const since = ({ days, handed_over_on }: History) =>
  days === null ? "not handed over yet" : `handed over ${handed_over_on}, ${String(days)} days ago`;

const toneOf = (advice: Advice) =>
  advice.outcome === "redo" ? "bad" : advice.outcome === "normal" ? "good" : "open";

function Told({
  history,
  advice,
  kind,
  answers,
  onAnswer,
}: {
  history: History;
  advice: Advice;
  kind: string;
  answers: Record<string, "yes" | "no">;
  onAnswer: (fact: string, answer: "yes" | "no") => void;
}) {
  const keep = useKeepCall(history.window_id);
  const notify = useNotify();
  const [said, setSaid] = useState("");
  const [outcome, setOutcome] = useState(advice.outcome);
  const [bears, setBears] = useState(advice.bears);
  const [because, setBecause] = useState("");
  const [otherwise, setOtherwise] = useState(false);
  return (
    <Box data-advice={advice.outcome} sx={{ mb: 2 }}>
      <Typography sx={{ fontSize: 22, fontWeight: 700 }}>
        {WORDS.Outcome[advice.outcome]} · {WORDS.Bears[advice.bears]}
      </Typography>
      {advice.missing.map((one) => (
        <Typography key={one} color="error.main">
          Missing: {one}
        </Typography>
      ))}
      {advice.questions.map((one) => (
        <Row key={one.fact}>
          <Typography sx={{ fontWeight: 700 }}>{one.ask}</Typography>
          <Button onClick={() => onAnswer(one.fact, "yes")}>Yes</Button>
          <Button onClick={() => onAnswer(one.fact, "no")}>No</Button>
        </Row>
      ))}
      <TextField
        label="What the caller said"
        value={said}
        onChange={(event) => setSaid(event.target.value)}
        fullWidth
        multiline
        sx={{ my: 1 }}
      />
      {otherwise && (
        <Row>
          <Choice
            label="What is done"
            value={outcome}
            options={WORDS.Outcome}
            onChange={setOutcome}
            sx={{ minWidth: 180 }}
          />
          <Choice
            label="Whose cost"
            value={bears}
            options={WORDS.Bears}
            onChange={setBears}
            sx={{ minWidth: 200 }}
          />
          <TextField
            label="Why"
            value={because}
            onChange={(event) => setBecause(event.target.value)}
            sx={{ flexGrow: 1 }}
          />
        </Row>
      )}
      <Row>
        <Button
          variant="contained"
          disabled={keep.pending || (otherwise && because.trim() === "")}
          onClick={() =>
            keep.write(
              {
                kind,
                said,
                answers,
                outcome: otherwise ? outcome : null,
                bears: otherwise ? bears : null,
                because: otherwise ? because : "",
              },
              {
                onSuccess: () => {
                  setSaid("");
                  notify("The call is on record.");
                },
              },
            )
          }
          sx={{ mt: 1 }}
        >
          Keep the call
        </Button>
        <Button
          variant="text"
          onClick={() => {
            // What is decided otherwise begins with the advice as it is after the answers.
            setOutcome(advice.outcome);
            setBears(advice.bears);
            setOtherwise(!otherwise);
          }}
          sx={{ mt: 1 }}
        >
          {otherwise ? "As advised" : "Decide otherwise"}
        </Button>
      </Row>
      {keep.error && <ErrorNote error={keep.error} />}
    </Box>
  );
}

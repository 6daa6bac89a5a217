import { Box, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Job, Question, Verdict } from "../../../api/client";
import { Clauses, questionKey, Trust, VerdictFigures, VerdictMark } from "../../../shared";
import { QuestionAnswer } from "./QuestionAnswer";

/** One state's answer: word, figures, what is still to be answered, and every clause behind it. */
export function VerdictPanel({
  job,
  verdict,
  questions,
  open,
}: {
  job: Job;
  verdict: Verdict;
  /** Those of its questions that no other state has asked already. */
  questions: Question[];
  open: boolean;
}) {
  return (
    <Box sx={{ borderTop: 1, borderColor: "divider", py: 1.25 }} data-verdict={verdict.state}>
      <Box sx={{ display: "flex", gap: 2, alignItems: "center", mb: 0.5, flexWrap: "wrap" }}>
        <Typography sx={{ fontWeight: 700 }}>{verdict.state_name}</Typography>
        <VerdictMark word={verdict.word} />
        <Typography
          component={Link}
          to={`/rules/${verdict.state}`}
          variant="body2"
          sx={{ ml: "auto", color: "text.primary" }}
        >
          Rule book
        </Typography>
      </Box>
      <VerdictFigures verdict={verdict} />
      {questions.map((question) => (
        <QuestionAnswer key={questionKey(question)} job={job} question={question} state={verdict.state} />
      ))}
      <Typography variant="body2" sx={{ mt: 0.5 }}>
        {verdict.citation}
      </Typography>
      <Trust verdict={verdict} />
      {verdict.clauses.length > 0 && (
        <Box component="details" open={open} sx={{ mt: 0.5 }}>
          <Box component="summary" sx={{ cursor: "pointer", fontWeight: 600, py: 1 }}>
            Clause by clause
          </Box>
          <Clauses clauses={verdict.clauses} />
        </Box>
      )}
    </Box>
  );
}

import { Box, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Job, Verdict } from "../../../api/client";
import { Clauses, VerdictFigures, VerdictMark } from "../../../shared";
import { QuestionAnswer } from "./QuestionAnswer";

/** One state's answer: word, figures, what is still to be answered, and every clause behind it. */
export function VerdictPanel({ job, verdict, open }: { job: Job; verdict: Verdict; open: boolean }) {
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
      {verdict.questions.map((question) => (
        <QuestionAnswer
          key={`${question.asks}-${question.window_id}-${question.position ?? ""}-${question.law_field}`}
          job={job}
          question={question}
          state={verdict.state}
        />
      ))}
      <Typography variant="body2" sx={{ mt: 0.5 }}>
        {verdict.citation}
      </Typography>
      {verdict.unconfirmed.length > 0 && (
        <Typography variant="body2" color="text.secondary">
          Rests on what nobody has confirmed:{" "}
          {verdict.unconfirmed.map((name) => name.replace(/[._]/g, " ")).join(", ")}.
        </Typography>
      )}
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

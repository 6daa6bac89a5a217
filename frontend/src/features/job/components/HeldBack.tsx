import { Box, Button, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Job, JobWindow, Question } from "../../../api/client";
import { WORDS } from "../../../api/words";
import { onlyOnce } from "../../../shared";
import { QuestionAnswer } from "./QuestionAnswer";

/** Every window that the knife must leave, why, and the very place where that is mended. */
export function HeldBack({ job, held, lit }: { job: Job; held: JobWindow[]; lit: string | null }) {
  if (held.length === 0) return null;
  const asked = onlyOnce(
    held.flatMap((window) => window.held_by.map((question) => ({ window, question }))),
    (one) => one.question,
  );
  return (
    <Box
      component="section"
      aria-label="Held back"
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "repeat(2, minmax(0, 1fr))" },
        gap: 0.75,
        mb: 1.5,
        "@media print": { display: "none" },
      }}
    >
      {held.map((window) => (
        <Box
          key={window.id}
          data-held={window.label}
          sx={{
            borderLeft: 6,
            borderColor: "error.main",
            bgcolor: "background.paper",
            outline: window.id === lit ? 2 : 0,
            px: 1.5,
            py: 0.5,
          }}
        >
          <Box
            sx={{ display: "flex", gap: 1.5, alignItems: "center", flexWrap: { xs: "wrap", sm: "nowrap" } }}
          >
            <Typography variant="body2" sx={{ flex: "1 1 240px" }}>
              <b>{window.label} is held back.</b> {window.held}
            </Typography>
            <Button size="small" component={Link} to={placeOf(job, window)} sx={{ flexShrink: 0 }}>
              {window.held_at ? `Mend it at ${WORDS.Station[window.held_at]}` : "Look at it"}
            </Button>
          </Box>
          {asked
            .filter((one) => one.window === window)
            .map(({ question }) => (
              <QuestionAnswer
                key={question.text}
                job={job}
                question={question}
                state={stateOf(window, question)}
              />
            ))}
        </Box>
      ))}
    </Box>
  );
}

function placeOf(job: Job, window: JobWindow): string {
  return `/jobs/${job.id}/${window.held_at ?? "survey"}?w=${window.id}`;
}

/** Whose law asks it. */
function stateOf(window: JobWindow, question: Question): string {
  const asking = window.verdicts.find((verdict) =>
    verdict.questions.some((one) => one.text === question.text),
  );
  return asking?.state ?? "";
}

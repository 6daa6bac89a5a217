import { Button } from "@mui/material";
import { Link } from "react-router";
import type { Job, Question } from "../../../api/client";
import { QuestionAsk, type Reply } from "../../../shared";
import { useFilmAnswer, useJobChange, useWindowChange } from "../api";

/** A question of a job's car; its answer is kept with the car, the window or the film. */
export function QuestionAnswer({ job, question, state }: { job: Job; question: Question; state: string }) {
  const { change } = useJobChange(job.id);
  const windows = useWindowChange(job.id);
  const film = useFilmAnswer();
  const window = job.windows.find((one) => one.id === question.window_id);
  const reply = (answer: Reply) => {
    if (answer.car) change(answer.car);
    if (answer.window && window) windows.change(window.id, answer.window);
    if (answer.film) film.write({ filmId: question.film_id, facts: answer.film });
    if (answer.glass?.there === false && question.position)
      change({ no_glass_at: [...job.no_glass_at, question.position] });
  };
  return (
    <QuestionAsk
      question={question}
      state={state}
      saved={window?.readings[question.asks]?.typed ?? ""}
      onReply={reply}
      addGlass={
        <Button component={Link} to={`/jobs/${job.id}/survey?w=all`}>
          Add it at Survey
        </Button>
      }
    />
  );
}

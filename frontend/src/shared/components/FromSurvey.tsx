import { Box, Typography } from "@mui/material";
import { Ruled } from "./states";

export interface SurveyNote {
  label: string;
  found: string;
  words: string;
  caution: string;
  minutes: number;
}

/** What was found at the survey and counts here. */
export function FromSurvey({ notes }: { notes: readonly SurveyNote[] }) {
  if (notes.length === 0) return null;
  return (
    <Ruled title="Found at the survey">
      <Box component="ul" sx={{ m: 0, pl: 2.5 }} data-from-survey>
        {notes.map((note, i) => (
          <Typography key={i} component="li">
            {note.label && <b>{note.label}. </b>}
            {note.found}: {note.words}
            {note.minutes > 0 ? `; about ${note.minutes} min` : ""}. {note.caution && <b>{note.caution}</b>}
          </Typography>
        ))}
      </Box>
    </Ruled>
  );
}

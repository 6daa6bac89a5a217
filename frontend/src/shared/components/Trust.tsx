import { Box, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Verdict } from "../../api/client";

/**
 * How far an answer can be trusted, in two marks: a strong one where the figure that decides is
 * not confirmed by anybody, else one quiet line.
 */
export function Trust({ verdict }: { verdict: Verdict }) {
  const { deciding, unconfirmed, state, state_name } = verdict;
  if (unconfirmed.length === 0) return null;
  if (deciding.length === 0)
    return (
      <Typography variant="body2" color="text.secondary" data-trust="quiet">
        {unconfirmed.length === 1 ? "One field" : `${unconfirmed.length} fields`} of {state_name}’s record
        nobody has confirmed; none of them decides this.
      </Typography>
    );
  return (
    <Box
      data-trust="strong"
      sx={{ border: 2, borderStyle: "dashed", borderColor: "text.primary", px: 1, py: 0.5, mt: 0.5 }}
    >
      <Typography variant="body2">
        <b>Not confirmed:</b> the answer hangs on {deciding.map(fieldWords).join(", ")}.{" "}
        <Link to={`/rules/${state}/confirm`}>Confirm {state_name}</Link>
      </Typography>
    </Box>
  );
}

/** A field of the law's table in words. */
export function fieldWords(path: string): string {
  return path.replace(/[._]/g, " ");
}

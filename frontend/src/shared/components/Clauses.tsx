import { Box, Typography } from "@mui/material";
import type { Clause } from "../../api/client";

const STATE: Record<Clause["state"], { mark: string; words: string }> = {
  kept: { mark: "✓", words: "kept" },
  broken: { mark: "✕", words: "broken" },
  "cannot tell": { mark: "?", words: "cannot tell" },
  "no rule on file": { mark: "–", words: "no rule on file" },
};

/** The law clause by clause: outcome, the rule, what was found, where it stands. */
export function Clauses({ clauses }: { clauses: Clause[] }) {
  return (
    <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
      {clauses.map((clause) => {
        const { mark, words } = STATE[clause.state];
        const color =
          clause.state === "broken"
            ? "error.main"
            : clause.state === "kept"
              ? "success.main"
              : "text.primary";
        return (
          <Box
            component="li"
            key={clause.id}
            data-clause={clause.id}
            sx={{
              display: "grid",
              gridTemplateColumns: "112px minmax(0, 1fr)",
              gap: 1,
              py: 0.75,
              borderTop: 1,
              borderColor: "divider",
            }}
          >
            <Typography component="span" sx={{ color, fontWeight: 700 }}>
              <span aria-hidden="true">{mark} </span>
              {clause.close ? "close" : words}
            </Typography>
            <Box>
              <Typography component="p">{clause.sentence}</Typography>
              {clause.found && clause.found !== clause.sentence && (
                <Typography component="p" variant="body2">
                  {clause.found}
                </Typography>
              )}
              <Typography component="p" variant="body2" color="text.secondary">
                {clause.citation}
                {clause.unconfirmed.length > 0 && " · nobody has confirmed this yet"}
              </Typography>
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}

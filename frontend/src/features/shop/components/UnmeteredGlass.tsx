import { ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { sessionQuery } from "../../../api/queries";
import { ErrorNote, Ruled, useNotify } from "../../../shared";
import { unmeteredQuery, useSetUnmetered } from "../api";

const DOES = {
  ask: "Ask: held until metered, or by a lead’s reason",
  warn: "Warn: told at Cut and on the cut list",
  allow: "Allow",
} as const;

/** What comes before the knife where nobody metered the glass and a meter may read under the limit. */
export function UnmeteredGlass() {
  const found = useQuery(unmeteredQuery());
  const role = useQuery(sessionQuery()).data?.person?.role;
  const set = useSetUnmetered();
  const notify = useNotify();
  if (!found.data) return found.isError ? <ErrorNote error={found.error} /> : null;
  const { does, version } = found.data;
  return (
    <Ruled title="Glass that nobody metered">
      <Typography sx={{ mb: 1 }}>Before film is cut for it that a meter may read under the limit:</Typography>
      <ToggleButtonGroup
        exclusive
        value={does}
        disabled={role !== "lead" && role !== "owner"}
        aria-label="Glass that nobody metered"
        sx={{ flexWrap: "wrap" }}
        onChange={(_, next: keyof typeof DOES | null) => {
          if (next)
            set.write({ does: next, version }, { onSuccess: () => notify("Cut goes by this from now on.") });
        }}
      >
        {Object.entries(DOES).map(([name, words]) => (
          <ToggleButton key={name} value={name}>
            {words}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {set.error && <ErrorNote error={set.error} />}
    </Ruled>
  );
}

import { Box, Button, Typography } from "@mui/material";
import type { Schemas } from "../../api/client";
import { Empty, ErrorNote } from "../../shared";
import { useChoosePerson } from "./api";

/** Who stands at this screen. Passwords come later; every write carries the name. */
export function StartPage({ people }: { people: Schemas["PersonOut"][] }) {
  const choose = useChoosePerson();
  return (
    <Box component="main" sx={{ maxWidth: 720, mx: "auto", pt: "12vh", px: 3 }}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, mb: 5 }}>
        <img src="/mark.svg" width={44} height={44} alt="" />
        <Typography sx={{ fontWeight: 700, fontSize: "1.5rem" }}>Elumbra</Typography>
      </Box>
      <Typography variant="answer" component="h1" sx={{ mb: 1 }}>
        Who is working?
      </Typography>
      <Typography color="text.secondary" sx={{ mb: 3 }}>
        Everything you change on this screen is kept under your name.
      </Typography>
      {choose.error && <ErrorNote error={choose.error} />}
      {people.length === 0 && <Empty words="Nobody is on file yet." />}
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "minmax(0, 1fr)", sm: "1fr 1fr" }, gap: 2 }}>
        {people.map((person) => (
          <Button
            key={person.id}
            disabled={choose.pending}
            onClick={() => {
              choose.write(person.id);
            }}
            sx={{
              minHeight: 96,
              justifyContent: "space-between",
              px: 3,
              fontSize: "1.3rem",
              bgcolor: "background.paper",
            }}
          >
            {person.name}
            <Box component="span" sx={{ color: "text.secondary", fontSize: "1rem", fontWeight: 500 }}>
              {person.role}
            </Box>
          </Button>
        ))}
      </Box>
    </Box>
  );
}

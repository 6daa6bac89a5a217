import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import { ErrorNote, TextLine } from "../../../shared";
import { useEnrol } from "../api";

/** A device becomes one of the shop's own, by the code that the owner shows. */
export function Enrol({ code: given }: { code: string }) {
  const enrol = useEnrol();
  const [code, setCode] = useState(given);
  const [name, setName] = useState("");
  return (
    <>
      <Typography variant="answer" component="h1" sx={{ mb: 1 }}>
        One of the shop’s devices?
      </Typography>
      <Typography color="text.secondary" sx={{ mb: 3 }}>
        On an enrolled device names are shown and a short PIN is enough. The owner shows the code under
        People.
      </Typography>
      <Box
        component="form"
        onSubmit={(event: React.SyntheticEvent) => {
          event.preventDefault();
          enrol.write({ code, name });
        }}
        sx={{ display: "grid", gap: 2, maxWidth: 420 }}
      >
        <TextLine label="Code" value={code} onChange={setCode} />
        <TextLine
          label="Name of this device"
          value={name}
          onChange={setName}
          hint="Tablet in bay 1, for instance"
        />
        <Button
          type="submit"
          variant="contained"
          size="large"
          disabled={!code || !name.trim() || enrol.pending}
          sx={{ minHeight: 56 }}
        >
          Enrol this device
        </Button>
        <Button component={Link} to="/" variant="text">
          Not now: sign in with a password
        </Button>
        {enrol.error && <ErrorNote error={enrol.error} />}
      </Box>
    </>
  );
}

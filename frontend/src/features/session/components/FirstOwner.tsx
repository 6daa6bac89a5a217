import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import { Problem } from "../../../api/unwrap";
import { ErrorNote, TextLine, Tick } from "../../../shared";
import { useFirstOwner } from "../api";
import { SecretField } from "./SecretField";

/** A new shop: who owns it. */
export function FirstOwner({ atTheMachine }: { atTheMachine: boolean }) {
  const make = useFirstOwner();
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [again, setAgain] = useState("");
  const [home, setHome] = useState(false);
  const fields = make.error instanceof Problem ? make.error.fields : {};
  if (!atTheMachine)
    return (
      <>
        <Typography variant="answer" component="h1" sx={{ mb: 1 }}>
          Nobody owns this shop yet
        </Typography>
        <Typography>Begin on the machine that runs Elumbra. After that this device can be let in.</Typography>
      </>
    );
  const ready = name.trim() !== "" && (home || (password.length >= 8 && password === again));
  return (
    <>
      <Typography variant="answer" component="h1" sx={{ mb: 1 }}>
        Who owns this shop?
      </Typography>
      <Typography color="text.secondary" sx={{ mb: 3 }}>
        The owner adds the others, sets prices and opens the doors. Everything else can wait.
      </Typography>
      <Box
        component="form"
        onSubmit={(event: React.SyntheticEvent) => {
          event.preventDefault();
          if (ready) make.write({ name, password: home ? null : password, home });
        }}
        sx={{ display: "grid", gap: 2, maxWidth: 460 }}
      >
        <TextLine label="Your name" value={name} onChange={setName} problem={fields["name"]} />
        <Tick label="Just me, at home: no account on this machine" value={home} onChange={setHome} />
        {!home && (
          <>
            <SecretField
              label="Password"
              value={password}
              onChange={setPassword}
              problem={fields["password"]}
              hint="8 letters or more; a few words are good"
              fresh
            />
            <SecretField
              label="Once more"
              value={again}
              onChange={setAgain}
              problem={again && again !== password ? "Not the same." : undefined}
              fresh
            />
          </>
        )}
        <Button
          type="submit"
          variant="contained"
          color="secondary"
          size="large"
          disabled={!ready || make.pending}
        >
          {home ? "Begin" : "Open the shop"}
        </Button>
        {make.error && <ErrorNote error={make.error} />}
      </Box>
    </>
  );
}

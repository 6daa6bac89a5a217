import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import { Problem } from "../../../api/unwrap";
import { ErrorNote, Row } from "../../../shared";
import { useFirstPassword, useSignIn, type Session } from "../api";
import { SecretField } from "./SecretField";

type Name = Session["people"][number];

/** Somebody whose name was touched says his PIN or his password. */
export function Prove({
  person,
  byPin,
  known,
  onBack,
}: {
  person: Name;
  byPin: boolean;
  known: string;
  onBack: () => void;
}) {
  const signIn = useSignIn();
  const [pin, setPin] = useState(byPin);
  const [secret, setSecret] = useState("");
  if (person.no_password) return <FirstPassword person={person} onBack={onBack} />;
  const send = (typed: string) => {
    signIn.write(
      { person_id: person.id, ...(pin ? { pin: typed } : { password: typed }) },
      { onError: () => setSecret("") },
    );
  };
  const refused = signIn.error instanceof Problem ? signIn.error.message : undefined;
  return (
    <Box
      component="form"
      onSubmit={(event: React.SyntheticEvent) => {
        event.preventDefault();
        if (secret) send(secret);
      }}
      sx={{ display: "grid", gap: 2, maxWidth: 420 }}
    >
      <Typography variant="h1" component="h2">
        {person.name}
      </Typography>
      <SecretField
        key={pin ? "pin" : "password"}
        label={pin ? "PIN" : "Password"}
        value={secret}
        onChange={setSecret}
        problem={refused}
        hint={known && !pin ? `In this made-up shop: ${known}` : undefined}
        digits={pin}
        focus
      />
      {pin && <Digits onDigit={(digit) => setSecret((secret + digit).slice(0, 8))} />}
      <Row>
        <Button
          type="submit"
          variant="contained"
          disabled={!secret || signIn.pending}
          sx={{ minHeight: 56, minWidth: 140 }}
        >
          Sign in
        </Button>
        {known && !pin && (
          <Button onClick={() => send(known)} disabled={signIn.pending} sx={{ minHeight: 56 }}>
            As the demo says
          </Button>
        )}
        {byPin && (
          <Button
            variant="text"
            onClick={() => {
              setPin(!pin);
              setSecret("");
            }}
          >
            {pin ? "By password" : "By PIN"}
          </Button>
        )}
        <Button variant="text" onClick={onBack}>
          Somebody else
        </Button>
      </Row>
      {signIn.error && !refused && <ErrorNote error={signIn.error} />}
    </Box>
  );
}

/** Digits large enough for a glove. */
function Digits({ onDigit }: { onDigit: (digit: string) => void }) {
  return (
    <Box
      role="group"
      aria-label="Digits"
      sx={{ display: "grid", gridTemplateColumns: "repeat(3, 1fr)", gap: 2 }}
    >
      {["1", "2", "3", "4", "5", "6", "7", "8", "9", "0"].map((digit) => (
        <Button
          key={digit}
          onClick={() => onDigit(digit)}
          sx={{ minHeight: 88, fontSize: "1.8rem", ...(digit === "0" ? { gridColumn: 2 } : {}) }}
        >
          {digit}
        </Button>
      ))}
    </Box>
  );
}

/** An owner whom an older release gave no password. */
function FirstPassword({ person, onBack }: { person: Name; onBack: () => void }) {
  const set = useFirstPassword(person.id);
  const [chosen, setChosen] = useState("");
  return (
    <Box
      component="form"
      onSubmit={(event: React.SyntheticEvent) => {
        event.preventDefault();
        set.write({ new: chosen });
      }}
      sx={{ display: "grid", gap: 2, maxWidth: 460 }}
    >
      <Typography>
        {person.name} owns this shop and has no password yet. Choose one; it is asked for from now on.
      </Typography>
      <SecretField
        label="New password"
        value={chosen}
        onChange={setChosen}
        hint="8 letters or more"
        fresh
        focus
      />
      <Row>
        <Button type="submit" variant="contained" disabled={chosen.length < 8 || set.pending}>
          Set a password
        </Button>
        <Button variant="text" onClick={onBack}>
          Somebody else
        </Button>
      </Row>
      {set.error && <ErrorNote error={set.error} />}
    </Box>
  );
}

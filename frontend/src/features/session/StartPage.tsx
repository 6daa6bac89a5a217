import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import { useLocation } from "react-router";
import { Empty, ErrorNote, TextLine } from "../../shared";
import { useSignIn, type Session } from "./api";
import { Enrol } from "./components/Enrol";
import { FirstOwner } from "./components/FirstOwner";
import { Prove } from "./components/Prove";
import { SecretField } from "./components/SecretField";

type Name = Session["people"][number];

/** Who stands at this screen, and how he says so. */
export function StartPage({ session }: { session: Session }) {
  const place = useLocation();
  const code = place.pathname === "/enrol" ? (new URLSearchParams(place.search).get("code") ?? "") : null;
  if (session.first_start) return <Frame>{<FirstOwner atTheMachine={session.at_the_machine} />}</Frame>;
  if (code !== null && !session.device)
    return (
      <Frame>
        <Enrol code={code} />
      </Frame>
    );
  return (
    <Frame>
      <Typography variant="answer" component="h1" sx={{ mb: 1 }}>
        Who is working?
      </Typography>
      <Typography color="text.secondary" sx={{ mb: 3 }}>
        {session.ended || "Everything you change on this screen is kept under your name."}
      </Typography>
      {session.people.length > 0 ? <Names session={session} /> : <TypedName />}
      {!session.secure && <Typography sx={{ mt: 3 }}>{OFFLINE_OFF}</Typography>}
    </Frame>
  );
}

const OFFLINE_OFF =
  "This page did not come over https, so nothing is kept on this device for when the server is away.";

export function Frame({ children }: { children: React.ReactNode }) {
  return (
    <Box component="main" sx={{ maxWidth: 760, mx: "auto", pt: { xs: 3, sm: "9vh" }, px: 3, pb: 4 }}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, mb: { xs: 3, sm: 5 } }}>
        <img src="/mark.svg" width={44} height={44} alt="" />
        <Typography sx={{ fontWeight: 700, fontSize: "1.5rem" }}>Elumbra</Typography>
      </Box>
      {children}
    </Box>
  );
}

/** Names to touch; the one that was touched says his password or PIN below. */
function Names({ session }: { session: Session }) {
  const [chosen, setChosen] = useState<Name | null>(null);
  if (session.people.length === 0) return <Empty words="Nobody is on file yet." />;
  if (chosen)
    return (
      <Prove
        key={chosen.id}
        person={chosen}
        byPin={chosen.pin && session.device !== ""}
        known={session.known_passwords[chosen.id] ?? ""}
        onBack={() => setChosen(null)}
      />
    );
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: { xs: "minmax(0, 1fr)", sm: "1fr 1fr" }, gap: 2 }}>
      {session.people.map((person) => (
        <Button
          key={person.id}
          onClick={() => setChosen(person)}
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
  );
}

/** On a device that nobody enrolled no names are shown: one is typed. */
function TypedName() {
  const signIn = useSignIn();
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  return (
    <Box
      component="form"
      onSubmit={(event: React.SyntheticEvent) => {
        event.preventDefault();
        signIn.write({ name, password });
      }}
      sx={{ display: "grid", gap: 2, maxWidth: 420 }}
    >
      <TextLine label="Your name" value={name} onChange={setName} />
      <SecretField label="Password" value={password} onChange={setPassword} />
      <Button
        type="submit"
        variant="contained"
        size="large"
        disabled={!name || !password || signIn.pending}
        sx={{ minHeight: 56 }}
      >
        Sign in
      </Button>
      {signIn.error && <ErrorNote error={signIn.error} />}
    </Box>
  );
}

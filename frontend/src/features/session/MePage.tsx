import { Box, Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { sessionQuery } from "../../api/queries";
import { Problem } from "../../api/unwrap";
import {
  Answer,
  Choice,
  ErrorNote,
  Pending,
  Row,
  Ruled,
  TwoColumns,
  useNotify,
  useSettings,
} from "../../shared";
import { useOwnPassword, useOwnPin, useSignIn } from "./api";
import { SecretField } from "./components/SecretField";

const TEXTS = { normal: "as it is", large: "larger", largest: "largest" } as const;

/** What is one's own: password, PIN, and how screens look; it goes along to every device. */
export function MePage() {
  const session = useQuery(sessionQuery());
  const leave = useSignIn();
  const { text, setText } = useSettings();
  if (!session.data?.person) return <Pending what="your page" />;
  const { person, device, home } = session.data;
  return (
    <>
      <Answer
        why={`${person.role}${person.prices ? "" : ", without prices"}. Units, look and text size go with you to every device.`}
      >
        {person.name}
      </Answer>
      <TwoColumns>
        <Box>
          <Ruled title="Look">
            <Choice label="Text size" value={text} options={TEXTS} onChange={setText} />
            <Typography color="text.secondary" sx={{ mt: 1 }}>
              Inches or millimetres, bench or bay are set at the head of the page. Your schools, your cutting
              hand among them, are under Shop.
            </Typography>
          </Ruled>
          {!home && (
            <Ruled title="Leave">
              <Button size="large" onClick={() => leave.write({})} sx={{ minHeight: 56 }}>
                Lock this screen
              </Button>
            </Ruled>
          )}
        </Box>
        <Box>
          <Password has={!home} />
          {!home && <Pin has={person.pin} device={device} />}
        </Box>
      </TwoColumns>
    </>
  );
}

/** A new password; asked for at once where somebody else made the old one up. */
export function Password({ has, first = false }: { has: boolean; first?: boolean }) {
  const set = useOwnPassword();
  const notify = useNotify();
  const [said, setSaid] = useState({ old: "", fresh: "", again: "" });
  const fields = set.error instanceof Problem ? set.error.fields : {};
  const ready = said.fresh.length >= 8 && said.fresh === said.again;
  return (
    <Ruled title={first ? "Choose a password of your own" : "Password"}>
      <Box
        component="form"
        onSubmit={(event: React.SyntheticEvent) => {
          event.preventDefault();
          set.write(
            { old: has ? said.old : null, new: said.fresh },
            {
              onSuccess: () => {
                setSaid({ old: "", fresh: "", again: "" });
                notify("Your password is changed; your other screens are signed out.");
              },
            },
          );
        }}
        sx={{ display: "grid", gap: 2, maxWidth: 420 }}
      >
        {has && (
          <SecretField
            label="Old password"
            value={said.old}
            onChange={(old) => setSaid({ ...said, old })}
            problem={fields["password"]}
          />
        )}
        <SecretField
          label="New password"
          value={said.fresh}
          onChange={(fresh) => setSaid({ ...said, fresh })}
          hint="8 letters or more"
          fresh
        />
        <SecretField
          label="Once more"
          value={said.again}
          onChange={(again) => setSaid({ ...said, again })}
          problem={said.again && said.again !== said.fresh ? "Not the same." : undefined}
          fresh
        />
        <Button type="submit" variant="contained" disabled={!ready || set.pending}>
          Change the password
        </Button>
        {set.error && <ErrorNote error={set.error} />}
      </Box>
    </Ruled>
  );
}

function Pin({ has, device }: { has: boolean; device: string }) {
  const set = useOwnPin();
  const notify = useNotify();
  const [said, setSaid] = useState({ password: "", pin: "" });
  const done = (words: string) => ({
    onSuccess: () => {
      setSaid({ password: "", pin: "" });
      notify(words);
    },
  });
  return (
    <Ruled title="PIN">
      <Typography color="text.secondary" sx={{ mb: 1 }}>
        {device ? `This is “${device}”.` : "This device is not enrolled."} A PIN counts on enrolled devices
        only.
      </Typography>
      <Box
        component="form"
        onSubmit={(event: React.SyntheticEvent) => {
          event.preventDefault();
          set.write(said, done("Your PIN is set."));
        }}
        sx={{ display: "grid", gap: 2, maxWidth: 420 }}
      >
        <SecretField
          label="Password"
          value={said.password}
          onChange={(password) => setSaid({ ...said, password })}
        />
        <SecretField
          label="New PIN"
          value={said.pin}
          onChange={(pin) => setSaid({ ...said, pin: pin.replace(/\D/g, "") })}
          hint="4 to 8 digits"
          digits
          fresh
        />
        <Row>
          <Button
            type="submit"
            variant="contained"
            disabled={said.pin.length < 4 || !said.password || set.pending}
          >
            Set the PIN
          </Button>
          {has && (
            <Button
              onClick={() => set.write({ password: said.password, pin: null }, done("Your PIN is gone."))}
              disabled={!said.password || set.pending}
            >
              Take it away
            </Button>
          )}
        </Row>
        {set.error && <ErrorNote error={set.error} />}
      </Box>
    </Ruled>
  );
}

import { Box, Button, Checkbox, FormControlLabel, Typography } from "@mui/material";
import { useState } from "react";
import { Problem } from "../../../api/unwrap";
import { Choice, ErrorNote, Hours, Row, Ruled, TextLine, Tick, useDraft, useNotify } from "../../../shared";
import { useChangePerson, useNewPassword, useRemovePerson, type Person } from "../api";
import { ROLES, SKILLS, type Role, type Skill } from "../roles";

/** One person: what he may do, when he is here, how he comes in. */
export function PersonPanel({ person, owner }: { person: Person; owner: boolean }) {
  const change = useChangePerson(person.id);
  const remove = useRemovePerson(person.id, person.removed);
  const notify = useNotify();
  const draft = useDraft({ name: person.name, days: person.days_off.join(", ") });
  const { name, days } = draft.fields;
  const fields = change.error instanceof Problem ? change.error.fields : {};
  const keep = (said: Partial<Parameters<typeof change.write>[0]>) =>
    change.write(
      { version: person.version, ...said },
      {
        onSuccess: () => {
          draft.kept({
            name: said.name === undefined ? person.name : name,
            days: said.days_off === undefined ? person.days_off.join(", ") : days,
          });
          notify(`${person.name} is changed.`);
        },
      },
    );
  return (
    <Ruled title={person.name}>
      <Row>
        <TextLine
          label="Name"
          value={name}
          onChange={(typed) => draft.set({ name: typed })}
          disabled={!owner}
          problem={fields["name"]}
        />
        <Choice
          label="Works as"
          value={person.role as Role}
          options={ROLES}
          disabled={!owner}
          onChange={(role) => keep({ role })}
          problem={fields["role"]}
          sx={{ minWidth: 260 }}
        />
        {owner && name !== person.name && <Button onClick={() => keep({ name })}>Keep the name</Button>}
        {owner && (
          <Button onClick={() => remove.write({ version: person.version })}>
            {person.removed ? "Bring back" : "No longer here"}
          </Button>
        )}
      </Row>
      <Typography variant="h3" sx={{ mt: 2 }}>
        May do
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap" }}>
        {(Object.keys(SKILLS) as Skill[]).map((skill) => (
          <FormControlLabel
            key={skill}
            label={SKILLS[skill]}
            control={
              <Checkbox
                checked={person.skills.includes(skill)}
                disabled={!owner}
                onChange={(_, on) =>
                  keep({
                    skills: on ? [...person.skills, skill] : person.skills.filter((one) => one !== skill),
                  })
                }
              />
            }
          />
        ))}
      </Box>
      <Tick
        label="Sees prices"
        value={person.prices}
        disabled={!owner || person.role === "owner"}
        onChange={(prices) => keep({ prices })}
      />
      <Hours
        title="Hours"
        hours={person.hours}
        asShop
        disabled={!owner}
        onKeep={(hours) => keep(hours === null ? { own_hours: false } : { hours })}
      />
      <Row>
        <TextLine
          label="Days off"
          value={days}
          onChange={(typed) => draft.set({ days: typed })}
          disabled={!owner}
          problem={fields["days_off"]}
          hint="Such as 2026-12-24, 2026-12-27"
        />
        {owner && days !== person.days_off.join(", ") && (
          <Button onClick={() => keep({ days_off: days.split(/[,\s]+/).filter(Boolean) })}>
            Keep the days
          </Button>
        )}
      </Row>
      {change.error && <ErrorNote error={change.error} />}
      {remove.error && <ErrorNote error={remove.error} />}
      {owner && !person.removed && <NewPassword person={person} />}
    </Ruled>
  );
}

function NewPassword({ person }: { person: Person }) {
  const set = useNewPassword(person.id);
  const notify = useNotify();
  const [password, setPassword] = useState("");
  const state = person.to_be_changed
    ? "has a password that is changed at the next sign-in"
    : person.password
      ? "has an own password"
      : "has no password";
  return (
    <>
      <Typography sx={{ mt: 2 }}>
        {person.name} {state}
        {person.pin ? " and a PIN" : ""}.
      </Typography>
      <Row>
        <TextLine label="New password" value={password} onChange={setPassword} hint="8 letters or more" />
        <Button
          disabled={password.length < 8 || set.pending}
          onClick={() =>
            set.write(
              { password, version: person.version },
              {
                onSuccess: () => {
                  setPassword("");
                  notify(
                    `${person.name} signs in with it and then chooses an own one; all other screens are signed out.`,
                  );
                },
              },
            )
          }
        >
          Give it
        </Button>
      </Row>
      {set.error && <ErrorNote error={set.error} />}
    </>
  );
}

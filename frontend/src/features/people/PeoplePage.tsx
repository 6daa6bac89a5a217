import { Box, Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { sessionQuery } from "../../api/queries";
import { Problem } from "../../api/unwrap";
import { Answer, Choice, ErrorNote, Head, Pending, Row, Ruled, TextLine } from "../../shared";
import { peopleQuery, useCreatePerson, type Person } from "./api";
import { Doors } from "./components/Doors";
import { PersonPanel } from "./components/PersonPanel";
import { ROLES, type Role } from "./roles";

/** The people of the shop, what each may do, when he is here; the devices; the doors. */
export function PeoplePage() {
  const people = useQuery(peopleQuery());
  const session = useQuery(sessionQuery());
  const [picked, setPicked] = useState<string | null>(null);
  const [adding, setAdding] = useState(false);
  if (people.isPending) return <Pending what="the people" />;
  if (people.isError) return <ErrorNote error={people.error} again={() => void people.refetch()} />;
  const owner = session.data?.person?.role === "owner";
  const here = people.data.people.filter((one) => !one.removed);
  const gone = people.data.people.filter((one) => one.removed);
  const chosen = people.data.people.find((one) => one.id === picked) ?? here[0];
  return (
    <>
      <Head
        buttons={
          owner && (
            <Button variant="contained" color="secondary" size="large" onClick={() => setAdding(!adding)}>
              Add somebody
            </Button>
          )
        }
      >
        <Answer why={people.data.doors.told.join(" ")}>
          {`${here.length} ${here.length === 1 ? "person" : "people"}, ${people.data.doors.lan ? `${people.data.devices.length} devices` : "this machine only"}`}
        </Answer>
      </Head>
      {adding && <NewPerson onDone={() => setAdding(false)} />}
      {!owner && (
        <Typography sx={{ mb: 2 }}>
          The owner changes people, devices and doors; here you see them.
        </Typography>
      )}
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "300px minmax(0, 1fr)" },
          columnGap: 4,
        }}
      >
        <Box>
          <Ruled title="People">
            {here.map((one) => (
              <NameRow
                key={one.id}
                person={one}
                chosen={chosen?.id === one.id}
                onPick={() => setPicked(one.id)}
              />
            ))}
          </Ruled>
          {gone.length > 0 && (
            <Ruled title="No longer here">
              {gone.map((one) => (
                <NameRow
                  key={one.id}
                  person={one}
                  chosen={chosen?.id === one.id}
                  onPick={() => setPicked(one.id)}
                />
              ))}
            </Ruled>
          )}
        </Box>
        {chosen && <PersonPanel key={chosen.id} person={chosen} owner={owner} />}
      </Box>
      <Doors people={people.data} owner={owner} />
    </>
  );
}

function NameRow({ person, chosen, onPick }: { person: Person; chosen: boolean; onPick: () => void }) {
  return (
    <Button
      fullWidth
      onClick={onPick}
      aria-pressed={chosen}
      sx={{
        justifyContent: "space-between",
        minHeight: 52,
        mb: 0.75,
        bgcolor: "background.paper",
        borderLeft: chosen ? "6px solid" : undefined,
        borderLeftColor: "secondary.main",
        ...(person.removed ? { textDecoration: "line-through" } : {}),
      }}
    >
      {person.name}
      <Box component="span" sx={{ color: "text.secondary", fontWeight: 500 }}>
        {person.role}
        {person.here > 0 ? " · signed in" : ""}
      </Box>
    </Button>
  );
}

function NewPerson({ onDone }: { onDone: () => void }) {
  const create = useCreatePerson();
  const [said, setSaid] = useState<{ name: string; role: Role; password: string }>({
    name: "",
    role: "installer",
    password: "",
  });
  const fields = create.error instanceof Problem ? create.error.fields : {};
  return (
    <Ruled title="Somebody new">
      <Box
        component="form"
        onSubmit={(event: React.SyntheticEvent) => {
          event.preventDefault();
          create.write(said, { onSuccess: onDone });
        }}
      >
        <Row>
          <TextLine
            label="Name"
            value={said.name}
            onChange={(name) => setSaid({ ...said, name })}
            problem={fields["name"]}
          />
          <Choice
            label="Works as"
            value={said.role}
            options={ROLES}
            onChange={(role) => setSaid({ ...said, role })}
            sx={{ minWidth: 200 }}
          />
          <TextLine
            label="First password"
            value={said.password}
            onChange={(password) => setSaid({ ...said, password })}
            problem={fields["password"]}
            hint="8 letters or more; changed at the first sign-in"
          />
          <Button
            type="submit"
            variant="contained"
            disabled={!said.name.trim() || said.password.length < 8 || create.pending}
          >
            Add
          </Button>
        </Row>
        {create.error && <ErrorNote error={create.error} />}
      </Box>
    </Ruled>
  );
}

import { Box, Button, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import {
  Answer,
  ArchiveButton,
  ErrorNote,
  FieldGrid,
  Pending,
  PickOne,
  Row,
  Ruled,
  TextLine,
  TwoColumns,
  useArchive,
  useDraft,
  useLeads,
  useNotify,
  useSeesPrices,
  STATE_WORDS,
} from "../../shared";
import {
  customerQuery,
  customersQuery,
  useChangeCustomer,
  useEraseCustomer,
  useMergeCustomer,
  type Customer,
} from "./api";

/** One customer: what is known, cars, jobs; merge, export, erase. */
export function CustomerPage() {
  const { customerId = "" } = useParams();
  const found = useQuery(customerQuery(customerId));
  if (found.isPending) return <Pending what="the customer" />;
  if (found.isError) return <ErrorNote error={found.error} again={() => void found.refetch()} />;
  const one = found.data;
  if (one.merged_into !== null)
    return (
      <>
        <Answer>{one.name} was merged</Answer>
        <Button component={Link} to={`/customers/${one.merged_into}`}>
          To the record that stands
        </Button>
      </>
    );
  return <Standing key={one.id} customer={one} />;
}

function Standing({ customer }: { customer: Customer }) {
  const erased = customer.erased_on !== "";
  return (
    <>
      <Answer
        why={erased ? `Erased on ${customer.erased_on}. Cuts, films and figures stay.` : customer.phone}
      >
        {customer.name}
      </Answer>
      <TwoColumns>
        <Box>
          {!erased && <Known customer={customer} />}
          <Ruled title="Cars">
            {customer.vehicles.length === 0 && <Typography>None on file.</Typography>}
            {customer.vehicles.map((car) => (
              <Typography key={car.id}>
                <b>{car.label}</b> {[car.plate, car.vin].filter(Boolean).join(" · ")}
              </Typography>
            ))}
          </Ruled>
          <Ruled title="Jobs">
            {customer.jobs.length === 0 && <Typography>None yet.</Typography>}
            {customer.jobs.map((job) => (
              <Typography key={job.id}>
                <Link to={`/jobs/${job.id}`} style={{ color: "inherit" }}>
                  {job.number} {job.vehicle_label}
                </Link>{" "}
                {job.handed_over_on ? `went ${job.handed_over_on}` : STATE_WORDS[job.status]}
              </Typography>
            ))}
          </Ruled>
        </Box>
        {!erased && (
          <Box>
            <Merge customer={customer} />
            <Erase customer={customer} />
            <Archive customer={customer} />
          </Box>
        )}
      </TwoColumns>
    </>
  );
}

/** Out of lists and search; cars, jobs, and calls stay as they are. */
function Archive({ customer }: { customer: Customer }) {
  const { archive, restore } = useArchive("customer");
  if (!useLeads()) return null;
  return (
    <Ruled title="Archive">
      {customer.archived ? (
        <Button onClick={() => restore(customer.id, customer.version, customer.name)}>
          Restore {customer.name}
        </Button>
      ) : (
        <ArchiveButton
          name={customer.name}
          onArchive={() => archive(customer.id, customer.version, customer.name)}
        />
      )}
    </Ruled>
  );
}

function Known({ customer }: { customer: Customer }) {
  const change = useChangeCustomer(customer.id);
  const { name, phone, email, note } = customer;
  const draft = useDraft({ name, phone, email, note });
  const { fields } = draft;
  const set = (field: keyof typeof fields) => (value: string) => draft.set({ [field]: value });
  return (
    <Ruled title="Known">
      <FieldGrid>
        <TextLine label="Name" value={fields.name} onChange={set("name")} />
        <TextLine label="Telephone" value={fields.phone} onChange={set("phone")} />
        <TextLine label="E-mail" value={fields.email} onChange={set("email")} />
      </FieldGrid>
      <TextField
        label="Notes"
        value={fields.note}
        onChange={(event) => set("note")(event.target.value)}
        multiline
        minRows={2}
        fullWidth
        sx={{ my: 1.5 }}
      />
      <Button
        variant="contained"
        disabled={change.pending || fields.name.trim() === ""}
        onClick={() =>
          change.write({ ...fields, version: customer.version }, { onSuccess: () => draft.kept(fields) })
        }
      >
        Keep
      </Button>
      {change.error && <ErrorNote error={change.error} />}
    </Ruled>
  );
}

function Merge({ customer }: { customer: Customer }) {
  const merge = useMergeCustomer(customer.id);
  const navigate = useNavigate();
  const notify = useNotify();
  const [search, setSearch] = useState("");
  const [into, setInto] = useState<string | null>(null);
  const found = useQuery(customersQuery(useDeferredValue(search)));
  const others = (found.data?.customers ?? []).filter((one) => one.id !== customer.id);
  return (
    <Ruled title="The same person twice?">
      <Typography sx={{ mb: 1 }}>Cars, jobs and notes of this record go to the other one.</Typography>
      <Row>
        <TextField
          label="Find the other"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
        />
        <Box sx={{ display: "grid", minWidth: 220 }}>
          <PickOne
            label="Merge into"
            value={into}
            none="pick one"
            options={others.map((one) => [one.id, `${one.name} ${one.phone}`] as const)}
            onChange={setInto}
          />
        </Box>
        <Button
          disabled={into === null || merge.pending}
          onClick={() =>
            merge.write(
              { into: into ?? "", version: customer.version },
              {
                onSuccess: (kept) => {
                  notify(`${customer.name} went into ${kept.name}.`);
                  void navigate(`/customers/${kept.id}`);
                },
              },
            )
          }
        >
          Merge
        </Button>
      </Row>
      {merge.error && <ErrorNote error={merge.error} />}
    </Ruled>
  );
}

function Erase({ customer }: { customer: Customer }) {
  const erase = useEraseCustomer(customer.id);
  const prices = useSeesPrices();
  const [name, setName] = useState("");
  return (
    <Ruled title="What is kept of this person">
      {prices && (
        <Row>
          <Button component="a" href={`/api/customers/${customer.id}/export`} download>
            Export all of it
          </Button>
        </Row>
      )}
      <Typography sx={{ my: 1 }}>
        Erasing takes name, telephone, plates, notes, signatures and pictures away for good. That it happened
        stays on record; so do cuts, films and readings. Copies made before still hold it until they are
        replaced.
      </Typography>
      <Row>
        <TextField
          label="Type the name to erase"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <Button
          color="error"
          disabled={name.trim() === "" || erase.pending}
          onClick={() => erase.write({ name: name.trim(), version: customer.version })}
        >
          Erase
        </Button>
      </Row>
      {erase.error && <ErrorNote error={erase.error} />}
    </Ruled>
  );
}

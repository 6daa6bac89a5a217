import { Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Job } from "../../../../api/client";
import { ErrorNote, FieldGrid, Row, Ruled, TextLine } from "../../../../shared";
import { ownerQuery, useKeepOwner } from "../../handover";

type Fields = Record<"name" | "phone" | "email" | "plate" | "vin", string>;

/** Whose car it is and what tells it from others: what papers, warranty and a later call hang on. */
export function Owner({ job }: { job: Job }) {
  const found = useQuery(ownerQuery(job.id));
  const keep = useKeepOwner(job.id);
  const [typed, setTyped] = useState<Partial<Fields>>({});
  if (!found.data) return null;
  const { customer, vehicle } = found.data;
  const kept: Fields = {
    name: customer?.name ?? found.data.name,
    phone: customer?.phone ?? "",
    email: customer?.email ?? "",
    plate: vehicle?.plate ?? "",
    vin: vehicle?.vin ?? "",
  };
  const now = { ...kept, ...typed };
  const field = (name: keyof Fields, label: string) => (
    <TextLine label={label} value={now[name]} onChange={(value) => setTyped({ ...typed, [name]: value })} />
  );
  const changed = (Object.keys(kept) as (keyof Fields)[]).some((name) => now[name] !== kept[name]);
  return (
    <Ruled
      title="Customer and car"
      action={
        customer ? (
          <Button size="small" variant="text" component={Link} to={`/customers/${customer.id}`}>
            All of this customer
          </Button>
        ) : undefined
      }
    >
      <FieldGrid columns={2}>
        {field("name", "Name")}
        {field("phone", "Telephone")}
        {field("plate", "Plate")}
        {field("vin", "VIN")}
      </FieldGrid>
      <Row>
        <Button
          variant="contained"
          disabled={keep.pending || now.name.trim() === "" || !(changed || customer === null)}
          onClick={() =>
            keep.write(
              {
                ...now,
                customer_id: customer?.id ?? null,
                vehicle_id: vehicle?.id ?? null,
                version: job.version,
              },
              { onSuccess: () => setTyped({}) },
            )
          }
          sx={{ mt: 1 }}
        >
          Keep
        </Button>
        {customer === null && (
          <Typography color="text.secondary">Not on file yet: the name is only on this job.</Typography>
        )}
      </Row>
      {keep.error && <ErrorNote error={keep.error} />}
    </Ruled>
  );
}

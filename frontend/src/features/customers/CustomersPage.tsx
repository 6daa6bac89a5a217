import { Box, Button, Pagination, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import {
  Answer,
  ArchivedList,
  ArchivedToggle,
  Empty,
  ErrorNote,
  Head,
  Pending,
  useArchived,
} from "../../shared";
import { customersQuery, useNewCustomer } from "./api";

/** Everybody whose cars were here, by name; found by telephone and plate as well. */
export function CustomersPage() {
  const [params, setParams] = useSearchParams();
  const search = params.get("q") ?? "";
  const page = Math.max(1, Number(params.get("page")) || 1);
  const found = useQuery(customersQuery(useDeferredValue(search), page));
  const make = useNewCustomer();
  const navigate = useNavigate();
  const [name, setName] = useState("");
  const look = (q: string, to: number) =>
    setParams({ ...(q ? { q } : {}), ...(to > 1 ? { page: String(to) } : {}) }, { replace: true });
  const [archived] = useArchived();
  if (archived) return <ArchivedList kind="customer" what="customers" />;
  return (
    <>
      <Head
        buttons={
          <>
            <TextField label="Search" value={search} onChange={(event) => look(event.target.value, 1)} />
            <ArchivedToggle />
          </>
        }
      >
        <Answer>Customers</Answer>
      </Head>
      {found.isPending && <Pending what="the customers" />}
      {found.isError && <ErrorNote error={found.error} again={() => void found.refetch()} />}
      {found.data?.total === 0 && (
        <Empty
          words={
            search
              ? `Nobody on file has “${search}”.`
              : "Nobody is on file yet. They are kept with their cars: type whose car it is at Handover, or here."
          }
        />
      )}
      {found.data?.customers.map((one) => (
        <Box key={one.id} sx={{ display: "flex", gap: 2, borderBottom: 1, borderColor: "divider", py: 0.75 }}>
          <Typography
            component={Link}
            to={`/customers/${one.id}`}
            sx={{ flexGrow: 1, fontWeight: 700, fontSize: 18, color: "inherit" }}
          >
            {one.name}
          </Typography>
          <Typography>{one.phone}</Typography>
        </Box>
      ))}
      {found.data && found.data.pages > 1 && (
        <Pagination
          count={found.data.pages}
          page={found.data.page}
          size="large"
          onChange={(_, to) => look(search, to)}
          sx={{ mt: 2 }}
        />
      )}
      <Box sx={{ display: "flex", gap: 1.5, mt: 2, alignItems: "center" }}>
        <TextField label="A new customer" value={name} onChange={(event) => setName(event.target.value)} />
        <Button
          disabled={name.trim() === "" || make.pending}
          onClick={() =>
            make.write(
              { name: name.trim(), phone: "", email: "", note: "" },
              { onSuccess: (made) => void navigate(`/customers/${made.id}`) },
            )
          }
        >
          Put on file
        </Button>
      </Box>
      {make.error && <ErrorNote error={make.error} />}
    </>
  );
}

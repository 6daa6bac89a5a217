import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  ToggleButton,
  Typography,
} from "@mui/material";
import { queryOptions, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { api, type Schemas } from "../../api/client";
import { sessionQuery } from "../../api/queries";
import { unwrap } from "../../api/unwrap";
import { Head } from "../fields/layout";
import { useNotify } from "../undo";
import { asItIs, refresh, stands, useWrite } from "../write";
import { Answer, Empty, ErrorNote, Pending } from "./states";

type Kind = Schemas["Archivable"];
type Item = Schemas["ArchivedItem"];

const FOLLOWS: Record<Kind, readonly string[]> = {
  film: ["rack", "film"],
  stock: ["rack", "film"],
  customer: ["customers", "customer"],
  shelf_car: ["shelf"],
};

const archivedQuery = (kind: Kind) =>
  queryOptions({
    queryKey: ["archive", kind],
    queryFn: () => unwrap(api.GET("/api/archive/{kind}", { params: { path: { kind } } })),
  });

/** Whether who sits here archives and restores: leads and owners do. */
export function useLeads(): boolean {
  const role = useQuery(sessionQuery()).data?.person?.role;
  return role === "lead" || role === "owner";
}

export function useArchive(kind: Kind) {
  const notify = useNotify();
  const write = useWrite({
    scope: `archive-${kind}`,
    prepare: asItIs<{ id: string; version: number; restore?: boolean }>,
    send: ({ id, version, restore }, headers) => {
      const options = { params: { path: { kind, id } }, body: { version }, headers };
      return unwrap(
        restore
          ? api.POST("/api/archive/{kind}/{id}/restore", options)
          : api.POST("/api/archive/{kind}/{id}", options),
      );
    },
    onDone: (archived, client) => {
      stands(client, archivedQuery(kind).queryKey, archived);
      refresh(client, FOLLOWS[kind]);
    },
  });
  const onError = (error: Error) => notify(error.message, { bad: true });
  const restore = (id: string, version: number, name: string) =>
    write.write({ id, version, restore: true }, { onSuccess: () => notify(`${name} is back.`), onError });
  return {
    pending: write.pending,
    restore,
    archive: (id: string, version: number, name: string) =>
      write.write(
        { id, version },
        {
          onSuccess: () => notify(`${name} is archived.`, { undo: () => restore(id, version + 1, name) }),
          onError,
        },
      ),
  };
}

/** Asks once, then does it. */
export function ArchiveButton({ name, onArchive }: { name: string; onArchive: () => void }) {
  const [asking, setAsking] = useState(false);
  return (
    <>
      <Button
        variant="text"
        onClick={() => setAsking(true)}
        aria-label={`Archive ${name}`}
        sx={{ color: "text.secondary" }}
      >
        Archive
      </Button>
      {asking && (
        <Dialog open onClose={() => setAsking(false)} maxWidth="xs" aria-labelledby="archive-title">
          <DialogTitle id="archive-title">Archive {name}?</DialogTitle>
          <DialogContent>
            <Typography>
              It leaves lists, board, and search. Find it under Archived and restore it any time.
            </Typography>
          </DialogContent>
          <DialogActions>
            <Button variant="text" onClick={() => setAsking(false)}>
              Keep it
            </Button>
            <Button
              variant="contained"
              color="secondary"
              onClick={() => {
                setAsking(false);
                onArchive();
              }}
            >
              Archive
            </Button>
          </DialogActions>
        </Dialog>
      )}
    </>
  );
}

/** Whether the list shows what is archived: kept in the address. */
export function useArchived(): [boolean, (on: boolean) => void] {
  const [params, setParams] = useSearchParams();
  return [params.get("archived") === "1", (on) => setParams(on ? { archived: "1" } : {}, { replace: true })];
}

/** The filter of a list; only who may restore sees it. */
export function ArchivedToggle() {
  const [on, set] = useArchived();
  return useLeads() ? (
    <ToggleButton value="archived" selected={on} onChange={() => set(!on)}>
      Archived
    </ToggleButton>
  ) : null;
}

const DAY = new Intl.DateTimeFormat("en-US", { month: "short", day: "numeric", year: "numeric" });

/** What of a kind is in the archive, each brought back by one touch. */
export function ArchivedList({ kind, what }: { kind: Kind; what: string }) {
  const found = useQuery(archivedQuery(kind));
  const { pending, restore } = useArchive(kind);
  if (found.isPending) return <Pending what="the archive" />;
  if (found.isError) return <ErrorNote error={found.error} again={() => void found.refetch()} />;
  const { items } = found.data;
  return (
    <>
      <Head buttons={<ArchivedToggle />}>
        <Answer>Archived {what}</Answer>
      </Head>
      {items.length === 0 && <Empty words="Nothing is archived." />}
      {items.map((one) => (
        <Box
          key={one.id}
          sx={{
            display: "flex",
            gap: 2,
            alignItems: "center",
            borderBottom: 1,
            borderColor: "divider",
            py: 0.75,
          }}
        >
          <Typography sx={{ flexGrow: 1, fontWeight: 700 }}>{one.name}</Typography>
          <Typography color="text.secondary">{when(one)}</Typography>
          <Button
            disabled={pending}
            aria-label={`Restore ${one.name}`}
            onClick={() => restore(one.id, one.version, one.name)}
          >
            Restore
          </Button>
        </Box>
      ))}
    </>
  );
}

const when = (one: Item) =>
  [one.person, one.at ? DAY.format(new Date(one.at)) : ""].filter(Boolean).join(", ");

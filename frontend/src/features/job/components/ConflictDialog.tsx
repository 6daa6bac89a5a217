import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { sessionQuery } from "../../../api/queries";
import { endConflict, useConflict, type Conflict } from "../conflicts";
import { told, type Clash } from "../logic/conflict";
import { findingOf } from "../logic/survey";
import { readingLabel } from "../logic/windows";

/** Two people changed the same thing: mine and theirs side by side, and neither is kept unasked. */
export function ConflictDialog({ names }: { names: Readonly<Record<string, string>> }) {
  const conflict = useConflict();
  if (!conflict) return null;
  return (
    <Asked key={conflict.clashes.map((one) => one.field + one.at).join()} conflict={conflict} names={names} />
  );
}

type Kept = "mine" | "theirs";

function Asked({ conflict, names }: { conflict: Conflict; names: Readonly<Record<string, string>> }) {
  const session = useQuery(sessionQuery());
  const [kept, setKept] = useState<Partial<Record<string, Kept>>>({});
  const who = (id: string) => session.data?.people.find((person) => person.id === id)?.name ?? "Somebody";
  const value = (one: unknown) => (typeof one === "string" && names[one]) || told(one);
  const open = conflict.clashes.some((one) => !kept[one.field]);
  const settle = () => {
    conflict.settle(
      new Set(conflict.clashes.map((one) => one.field).filter((field) => kept[field] === "theirs")),
    );
    endConflict(conflict);
  };
  return (
    <Dialog open fullWidth maxWidth="md" aria-labelledby="conflict-title">
      <DialogTitle id="conflict-title">Somebody else changed this meanwhile</DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 1 }}>
          Nothing of yours is saved yet. Choose what is kept, line by line.
        </Typography>
        <Table size="small" aria-label="Mine and theirs">
          <TableHead>
            <TableRow>
              <TableCell>What</TableCell>
              <TableCell>Mine</TableCell>
              <TableCell>Theirs</TableCell>
              <TableCell>Keep</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {conflict.clashes.map((one) => (
              <TableRow key={one.field} data-clash={one.field}>
                <TableCell sx={{ fontWeight: 700 }}>{nameOf(one)}</TableCell>
                <TableCell>{value(one.mine)}</TableCell>
                <TableCell>
                  {value(one.theirs)}
                  <Typography variant="body2" color="text.secondary">
                    {who(one.personId)}
                  </Typography>
                </TableCell>
                <TableCell>
                  <ToggleButtonGroup
                    exclusive
                    value={kept[one.field] ?? null}
                    aria-label={`Keep of ${nameOf(one)}`}
                    onChange={(_, choice: Kept | null) => {
                      if (choice) setKept((before) => ({ ...before, [one.field]: choice }));
                    }}
                  >
                    <ToggleButton value="mine">Mine</ToggleButton>
                    <ToggleButton value="theirs">Theirs</ToggleButton>
                  </ToggleButtonGroup>
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </DialogContent>
      <DialogActions>
        <Button variant="contained" color="secondary" disabled={open} onClick={settle}>
          Save what I chose
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function nameOf({ field }: Clash): string {
  if (field.startsWith("readings.")) return readingLabel(field.slice("readings.".length));
  const finding = findingOf(field.replace(/^findings\./, ""));
  return finding ? finding.label : field.replace(/_id$/, "").replaceAll("_", " ");
}

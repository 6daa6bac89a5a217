import {
  Box,
  Button,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Answer, ErrorNote, Pending, useFollowing, useNotify, useSettings } from "../../shared";
import { BaySchools } from "./components/BaySchools";
import { Cutter } from "./components/Cutter";
import { DaySettings } from "./components/DaySettings";
import { HomeStates } from "./components/HomeStates";
import { Letterhead } from "./components/Letterhead";
import { LightMeter } from "./components/LightMeter";
import { ShrinkSchool } from "./components/ShrinkSchool";
import { Thermometer } from "./components/Thermometer";
import { UnmeteredGlass } from "./components/UnmeteredGlass";
import { WaysOfCutting } from "./components/WaysOfCutting";
import { shownAs } from "./logic/shown";
import { startingValuesQuery, useSetValue } from "./api";

/** The shop's figures: what we start from, on what basis, and what the shop made of it. */
export function ShopPage() {
  const values = useQuery(startingValuesQuery());
  const [search, setSearch] = useState("");
  if (values.isPending) return <Pending what="the shop's figures" />;
  if (values.isError) return <ErrorNote error={values.error} again={() => void values.refetch()} />;
  const shown = values.data.values.filter((value) =>
    `${value.label} ${value.basis}`.toLowerCase().includes(search.toLowerCase()),
  );
  const own = values.data.values.filter((value) => value.changed_by_shop).length;
  return (
    <>
      <Answer why="The trade does these by feel. Each is our starting value until the shop sets its own; the basis says where it comes from.">
        {own ? `${String(own)} figures are the shop's own` : "Our starting values"}
      </Answer>
      <HomeStates />
      <DaySettings />
      <Letterhead />
      <WaysOfCutting />
      <UnmeteredGlass />
      <ShrinkSchool />
      <BaySchools />
      <LightMeter />
      <Cutter />
      <Thermometer />
      {values.data.told.map((words) => (
        <Typography key={words} role="status" sx={{ mb: 1, fontWeight: 700 }}>
          {words}
        </Typography>
      ))}
      <TextField
        label="Search"
        value={search}
        onChange={(event) => {
          setSearch(event.target.value);
        }}
        sx={{ mb: 1 }}
      />
      <Box sx={{ overflowX: "auto", position: "relative" }}>
        <Table size="small" aria-label="Starting values">
          <TableHead>
            <TableRow>
              <TableCell>Figure</TableCell>
              <TableCell>Value</TableCell>
              <TableCell>Unit</TableCell>
              <TableCell>Range</TableCell>
              <TableCell>Basis</TableCell>
              <TableCell />
            </TableRow>
          </TableHead>
          <TableBody>
            {shown.map((value) => (
              <ValueRow key={value.name} value={value} />
            ))}
          </TableBody>
        </Table>
      </Box>
      {shown.length === 0 && <Typography>No figure has “{search}” in its name or basis.</Typography>}
    </>
  );
}

function ValueRow({ value }: { value: Schemas["StartingValueOut"] }) {
  const set = useSetValue();
  const notify = useNotify();
  const { unit } = useSettings();
  const shown = shownAs(value.unit, unit);
  const [text, setText, given] = useFollowing(shown.show(value.value));
  const number = shown.read(text);
  const wrong = text.trim() === "" || Number.isNaN(number) || number < value.low || number > value.high;
  const save = (next: number | null) => {
    const before = value.changed_by_shop ? value.value : null;
    const said = next === null ? "our starting value again" : shown.show(next);
    set.write(
      { name: value.name, value: next, version: value.record_version },
      {
        onSuccess: (all) => {
          const version = all.values.find((one) => one.name === value.name)?.record_version ?? 0;
          const undo = () => set.write({ name: value.name, value: before, version });
          notify(`${value.label} is ${said}.`, { undo });
        },
        onError: (error) => notify(error.message, { bad: true }),
      },
    );
  };
  const keep = () => {
    given();
    if (!wrong && text !== shown.show(value.value)) save(number);
  };
  return (
    <TableRow>
      <TableCell>{value.label}</TableCell>
      <TableCell>
        <TextField
          value={text}
          error={wrong}
          helperText={wrong ? `${shown.show(value.low)} to ${shown.show(value.high)}` : undefined}
          onChange={(event) => {
            setText(event.target.value);
          }}
          onBlur={keep}
          onKeyDown={(event) => {
            if (event.key === "Enter") keep();
          }}
          slotProps={{ htmlInput: { "aria-label": value.label, inputMode: "decimal" } }}
          sx={{ width: 130 }}
        />
      </TableCell>
      <TableCell>{shown.unit}</TableCell>
      <TableCell>
        {shown.show(value.low)} to {shown.show(value.high)}
      </TableCell>
      <TableCell>{value.changed_by_shop ? "the shop's own" : `our starting value; ${value.basis}`}</TableCell>
      <TableCell>
        {value.changed_by_shop && (
          <Button
            size="small"
            variant="text"
            onClick={() => {
              save(null);
            }}
          >
            Back to ours
          </Button>
        )}
      </TableCell>
    </TableRow>
  );
}

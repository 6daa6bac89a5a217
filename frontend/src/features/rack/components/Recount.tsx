import { Box, Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import type { Schemas } from "../../../api/client";
import { Problem } from "../../../api/unwrap";
import {
  ErrorNote,
  FieldGrid,
  Row,
  Ruled,
  showAbout,
  TextLine,
  useSettings,
  withUnit,
} from "../../../shared";
import { recountQuery, useFullRoll, useStrikeFullRoll } from "../api";

/** How much is left by a tape round the roll. It proposes; nobody's ledger is written by it. */
export function Recount({ page }: { page: Schemas["StockPage"] }) {
  const { unit, showLength } = useSettings();
  const [girth, setGirth] = useState("");
  const [core, setCore] = useState("");
  const [full, setFull] = useState(false);
  const read = (text: string) => (text.trim() ? withUnit(text, unit) : "");
  const found = useQuery(
    recountQuery(page.stock.id, useDeferredValue(read(girth)), useDeferredValue(read(core))),
  );
  const calibrate = useFullRoll(page.stock.film_id);
  const strike = useStrikeFullRoll();
  const fields = found.error instanceof Problem ? found.error.fields : {};
  return (
    <Ruled title="Recount by the tape">
      <FieldGrid>
        <TextLine
          label="Round the roll"
          value={girth}
          problem={fields["girth"]}
          hint={`a bare number is ${unit}`}
          onChange={setGirth}
        />
        <TextLine label="Round the bare core" value={core} problem={fields["core"]} onChange={setCore} />
      </FieldGrid>
      {found.data && (
        <Box role="status" sx={{ my: 1 }}>
          <Typography variant="h2" component="p" color={found.data.agrees ? "success.main" : "error.main"}>
            {showAbout(found.data.length_mm, unit)} ± {showAbout(found.data.pm_mm, unit)}
          </Typography>
          <Typography>{found.data.words}</Typography>
          <Typography variant="body2" color="text.secondary">
            One turn is {found.data.thickness_mm.toFixed(3)} mm thick, by {found.data.rolls} full{" "}
            {found.data.rolls === 1 ? "roll" : "rolls"}.
          </Typography>
        </Box>
      )}
      {found.error && <ErrorNote error={found.error} />}
      <Typography sx={{ mt: 1 }}>
        {page.full_rolls.length === 0
          ? "A new roll of this film, still full, tells how thick it is wound."
          : "Full rolls it is reckoned by:"}
      </Typography>
      {page.full_rolls.map((one) => (
        <Row key={one.id}>
          <Typography variant="body2">
            {showLength(one.girth_mm)} round {showLength(one.length_mm)}, core {showLength(one.core_mm)},{" "}
            {one.on_day}, {one.person}
          </Typography>
          <Button
            size="small"
            variant="text"
            disabled={strike.pending}
            onClick={() => strike.write({ id: one.id, version: one.version })}
          >
            Strike
          </Button>
        </Row>
      ))}
      {calibrate.error && <ErrorNote error={calibrate.error} />}
      <Button
        size="small"
        disabled={!girth.trim() || !core.trim() || calibrate.pending || full}
        onClick={() =>
          calibrate.write(
            {
              girth: withUnit(girth, unit),
              core: withUnit(core, unit),
              length: `${String(page.stock.full_length_mm)} mm`,
            },
            { onSuccess: () => setFull(true) },
          )
        }
      >
        This roll is full: reckon by it
      </Button>
    </Ruled>
  );
}

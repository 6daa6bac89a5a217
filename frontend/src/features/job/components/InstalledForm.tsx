import { Box, Button, MenuItem, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Job, JobWindow } from "../../../api/client";
import { ErrorNote, Ruled, showPercent } from "../../../shared";
import { rackQuery } from "../../../api/queries";
import { useInstalled } from "../api";

/** The finished pane under the meter: the reading corrects the lot's figure. */
export function InstalledForm({
  job,
  window,
  lotCut = "",
}: {
  job: Job;
  window: JobWindow;
  /** The lot that was cut for it, where that is on record. */
  lotCut?: string;
}) {
  const rack = useQuery(rackQuery());
  const { record, pending, error } = useInstalled(job.id);
  const lots = [
    ...new Set([
      ...(lotCut ? [lotCut] : []),
      ...(rack.data?.stock ?? [])
        .filter((stock) => stock.film_id === window.film_id && stock.lot)
        .map((stock) => stock.lot),
    ]),
  ];
  const [lot, setLot] = useState(lotCut);
  const [text, setText] = useState("");
  const filmId = window.film_id;
  if (filmId === null || window.shade.vlt_percent === null) return null;
  const value = Number(text.replace("%", "").trim());
  const wrong = text.trim() !== "" && !(value >= 0 && value <= 100);
  const chosen = lot || lots[0] || "";
  return (
    <Ruled title="Metered with the film on">
      {error && <ErrorNote error={error} />}
      <Typography sx={{ my: 1 }}>
        Foretold: {showPercent(window.shade.vlt_percent)}. What the meter reads corrects the lot’s figure for
        the next car.
      </Typography>
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap", alignItems: "start" }}>
        <TextField
          label="The meter reads, %"
          value={text}
          error={wrong}
          helperText={wrong ? "A share of light: 0 to 100 %" : undefined}
          onChange={(event) => {
            setText(event.target.value);
          }}
          slotProps={{ htmlInput: { inputMode: "decimal" } }}
          sx={{ width: 170 }}
        />
        {lots.length > 0 ? (
          <TextField
            select
            label="Lot"
            value={chosen}
            onChange={(event) => {
              setLot(event.target.value);
            }}
            sx={{ minWidth: 150 }}
          >
            {lots.map((one) => (
              <MenuItem key={one} value={one}>
                {one}
              </MenuItem>
            ))}
          </TextField>
        ) : (
          <TextField
            label="Lot, from the roll’s label"
            value={lot}
            onChange={(event) => {
              setLot(event.target.value);
            }}
            sx={{ width: 190 }}
          />
        )}
        <Button
          disabled={pending || wrong || text.trim() === "" || chosen === ""}
          onClick={() => {
            record(window.id, { read_percent: value, lot: chosen, film_id: filmId }, () => {
              setText("");
            });
          }}
        >
          Keep the reading
        </Button>
      </Box>
    </Ruled>
  );
}

import { Button, Typography } from "@mui/material";
import { useMutation, useQuery } from "@tanstack/react-query";
import { Problem } from "../../../../api/unwrap";
import { meterQuery, readMeter } from "../../survey";
import type { ChangeWindow } from "./types";

/** Three readings of the light meter on this glass; typing by hand is as good. */
export function MeterButton({ change }: { change: ChangeWindow }) {
  const state = useQuery(meterQuery());
  const reading = useMutation({
    mutationFn: readMeter,
    onSuccess: (found) => change({ bare_readings_percent: found.readings_percent }),
  });
  const told = reading.error
    ? reading.error instanceof Problem
      ? reading.error.message
      : "The server does not answer."
    : reading.data
      ? words(reading.data)
      : (state.data?.told ?? "");
  return (
    <div>
      <Button disabled={reading.isPending} onClick={() => reading.mutate()}>
        {reading.isPending ? "Reading, hold it still …" : "Read the light meter"}
      </Button>
      <Typography
        variant="body2"
        role="status"
        sx={{ mt: 0.5, color: reading.error ? "error.main" : "text.secondary" }}
      >
        {told}
      </Typography>
    </div>
  );
}

function words(found: Awaited<ReturnType<typeof readMeter>>): string {
  const refused = found.refused_percent.length
    ? `; ${found.refused_percent.map((one) => `${one} %`).join(", ")} refused as too far off`
    : "";
  return `${found.readings_percent.join(", ")} %: mean ${found.mean_percent} %, spread ${found.spread_points} points${refused}`;
}

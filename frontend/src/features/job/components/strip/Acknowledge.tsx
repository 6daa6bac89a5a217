import { Box, Button, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Job, Schemas } from "../../../../api/client";
import { ErrorNote, Row, Ruled } from "../../../../shared";
import { useAcknowledge } from "../../bay";
import { SignatureBox, type Stroke } from "./SignatureBox";

/** The customer knows that lines may lift, and the price: signed here, or on paper. */
export function Acknowledge({ job, car }: { job: Job; car: Schemas["StripCarOut"] }) {
  const open = car.windows.filter((one) => !one.off && one.acknowledged === null);
  const signed = car.windows.filter((one) => one.acknowledged !== null);
  const send = useAcknowledge(job.id);
  const [name, setName] = useState(job.customer);
  const [strokes, setStrokes] = useState<Stroke[]>([]);
  const say = (how: "paper" | "signature") =>
    send.write({
      windows: open.map((one) => one.window_id),
      name: name.trim(),
      how,
      signature: how === "signature" ? strokes : [],
    });
  return (
    <Ruled title="Risk and price, signed by the customer">
      {signed.map((one) => (
        <Typography key={one.window_id}>
          ✓ {one.label}: {one.acknowledged?.by},{" "}
          {one.acknowledged?.how === "paper" ? "on paper" : "on the screen"}
        </Typography>
      ))}
      {open.length > 0 && (
        <Box sx={{ display: "grid", gap: 1 }}>
          <Typography>
            Defroster lines can lift with old film; the worst case is a new back glass, which the owner bears.
          </Typography>
          <TextField label="Customer" value={name} onChange={(event) => setName(event.target.value)} />
          <SignatureBox strokes={strokes} onChange={setStrokes} />
          <Row>
            <Button
              variant="contained"
              disabled={send.pending || name.trim() === "" || !strokes.some((one) => one.length > 1)}
              onClick={() => say("signature")}
            >
              Signed here
            </Button>
            <Button disabled={send.pending || name.trim() === ""} onClick={() => say("paper")}>
              Signed on paper
            </Button>
            {strokes.length > 0 && (
              <Button variant="text" onClick={() => setStrokes([])}>
                Clear
              </Button>
            )}
          </Row>
          {send.error && <ErrorNote error={send.error} />}
        </Box>
      )}
    </Ruled>
  );
}

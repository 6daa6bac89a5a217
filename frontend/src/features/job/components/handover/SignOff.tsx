import { Button, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../../../../api/client";
import { ErrorNote, Row } from "../../../../shared";
import { SignatureBox, type Stroke } from "../strip/SignatureBox";

type How = Schemas["AcceptBody"]["how"];

/** A name and a signature on the glass; or that it was signed on paper, or said. */
export function SignOff({
  name: known,
  words,
  ways,
  pending,
  disabled,
  error,
  onSign,
}: {
  name: string;
  /** What the button that takes the signature says. */
  words: string;
  ways: readonly Exclude<How, "signature">[];
  pending: boolean;
  disabled?: boolean;
  error: Error | null;
  onSign: (name: string, how: How, strokes: Stroke[]) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const [strokes, setStrokes] = useState<Stroke[]>([]);
  const name = typed ?? known;
  const unnamed = name.trim() === "" || pending || (disabled ?? false);
  const signed = strokes.some((one) => one.length > 1);
  return (
    <>
      <TextField
        label="Name"
        value={name}
        onChange={(event) => setTyped(event.target.value)}
        fullWidth
        sx={{ mb: 1 }}
      />
      <SignatureBox strokes={strokes} onChange={setStrokes} />
      <Row>
        <Button
          variant="contained"
          disabled={unnamed || !signed}
          onClick={() => onSign(name.trim(), "signature", strokes)}
          sx={{ minHeight: 52, mt: 1 }}
        >
          {words}
        </Button>
        {ways.map((how) => (
          <Button key={how} disabled={unnamed} onClick={() => onSign(name.trim(), how, [])} sx={{ mt: 1 }}>
            {how === "paper" ? "Signed on paper" : "Said so"}
          </Button>
        ))}
        {strokes.length > 0 && (
          <Button variant="text" onClick={() => setStrokes([])} sx={{ mt: 1 }}>
            Clear
          </Button>
        )}
      </Row>
      {(disabled ?? false) && (
        <Typography color="text.secondary">Settle what holds the car first.</Typography>
      )}
      {error && <ErrorNote error={error} />}
    </>
  );
}

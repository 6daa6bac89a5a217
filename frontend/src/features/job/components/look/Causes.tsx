import { Box, Button, Typography } from "@mui/material";
import { Row, Ruled } from "../../../../shared";
import type { Flaw } from "../../look";

const SHOWN = 3;

/** Why it is likely there: causes with what this window's run recorded for and against each. */
export function Causes({
  flaw,
  onAnswer,
}: {
  flaw: Flaw;
  onAnswer: (fact: string, told: "yes" | "no") => void;
}) {
  return (
    <Ruled title="Likely why">
      {flaw.questions.map((one) => (
        <Row key={one.fact}>
          <Typography sx={{ fontWeight: 700 }}>{one.ask}</Typography>
          <Button onClick={() => onAnswer(one.fact, "yes")}>Yes</Button>
          <Button onClick={() => onAnswer(one.fact, "no")}>No</Button>
        </Row>
      ))}
      {flaw.causes.slice(0, SHOWN).map((cause, i) => (
        <Box key={cause.id} sx={{ py: 0.75, borderBottom: 1, borderColor: "divider" }} data-cause={cause.id}>
          <Typography sx={{ fontSize: i === 0 ? 20 : 17, fontWeight: i === 0 ? 700 : 500 }}>
            {cause.percent.toFixed(0)} % · {cause.words}
          </Typography>
          {cause.speaks_for.map((one) => (
            <Typography key={one.words}>
              ✓ {one.told === "no" ? "not so: " : ""}
              {one.words}
            </Typography>
          ))}
          {cause.against.map((one) => (
            <Typography key={one.words} color="text.secondary">
              ✕ {one.told === "no" ? "not so: " : ""}
              {one.words}
            </Typography>
          ))}
          {cause.unknown.length > 0 && i === 0 && (
            <Typography color="text.secondary">
              ? unknown: {cause.unknown.map((one) => one.words).join("; ")}
            </Typography>
          )}
        </Box>
      ))}
      <Typography color="text.secondary" sx={{ mt: 0.5 }}>
        Weights are our assumption; no cause is a person.
      </Typography>
    </Ruled>
  );
}

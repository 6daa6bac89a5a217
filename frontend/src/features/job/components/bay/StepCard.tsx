import { Box, Typography } from "@mui/material";
import type { JobWindow } from "../../../../api/client";
import type { Card, Step } from "../../logic/bay";
import { isDone } from "../../logic/bay";
import { PaneAt } from "./PaneAt";

const LINE = {
  font: "inherit",
  color: "inherit",
  textAlign: "left",
  background: "none",
  border: 0,
  p: 0,
  cursor: "pointer",
  verticalAlign: "top",
  "&:disabled": { color: "inherit", cursor: "default" },
} as const;

/** One screen of the run: the sentence first, its drawing below it, tools and caution second. */
export function StepCard({
  card,
  window,
  left,
  onLeave,
}: {
  card: Card;
  window: JobWindow | null;
  /** Steps that the tick leaves open. */
  left: ReadonlySet<string>;
  onLeave: (key: string) => void;
}) {
  const [only] = card.steps;
  if (!only) return null;
  const several = card.steps.length > 1;
  const lit = card.steps.map((step) => step.at).find((at) => at !== "") ?? "";
  return (
    <Box
      sx={{
        display: "grid",
        gap: { xs: 1, sm: 2 },
        alignContent: "start",
        gridTemplateColumns: "minmax(0, 1fr)",
        // Beside the list on a screen that lies, below it on one that stands.
        ...(several
          ? { "@media (orientation: landscape) and (min-width: 900px)": { gridTemplateColumns: "3fr 2fr" } }
          : {}),
      }}
    >
      <Box sx={{ minWidth: 0 }}>
        <Typography
          component="p"
          data-step
          sx={{ fontSize: { xs: 28, sm: 60 }, lineHeight: 1.05, fontWeight: 700, letterSpacing: "-0.01em" }}
        >
          {several ? card.words : only.say}
        </Typography>
        {several ? (
          <Box component="ol" sx={{ m: 0, mt: 1, pl: { xs: 3, sm: 5 } }}>
            {card.steps.map((step) => (
              <Typography
                component="li"
                key={step.key}
                sx={{ fontSize: { xs: 18, sm: card.steps.length > 6 ? 26 : 32 }, lineHeight: 1.2, mb: 0.5 }}
              >
                <Box
                  component="button"
                  type="button"
                  aria-pressed={left.has(step.key)}
                  aria-label={`${step.say}${left.has(step.key) ? ": left open" : ""}`}
                  disabled={step.done !== null}
                  onClick={() => onLeave(step.key)}
                  sx={LINE}
                >
                  {step.done ? "✓ " : ""}
                  {step.say}
                  {left.has(step.key) && <b> · left open</b>}
                </Box>
                {step.caution && step.caution_seen ? "" : <Caution words={step.caution} />}
              </Typography>
            ))}
          </Box>
        ) : (
          <Single step={only} words={card.words} />
        )}
      </Box>
      {window && (
        <Box sx={{ maxWidth: { xs: 260, sm: 620 } }}>
          <PaneAt window={window} at={lit} />
        </Box>
      )}
      {isDone(card) && <Done card={card} />}
    </Box>
  );
}

function Single({ step, words }: { step: Step; words: string }) {
  const second = { fontSize: { xs: 18, sm: 36 }, lineHeight: 1.15 };
  return (
    <>
      <Typography sx={{ ...second, mt: 1 }}>
        {step.check || step.why}
        {step.again && " · because something went wrong"}
        {step.special && !step.again && " · special on this car"}
      </Typography>
      {step.caution && !step.caution_seen && (
        <Typography role="note" sx={{ ...second, mt: 1, color: "error.main", fontWeight: 700 }}>
          ⚠ {step.caution}
        </Typography>
      )}
      <Typography color="text.secondary" sx={{ fontSize: { xs: 16, sm: 22 }, mt: 1 }}>
        {words}
        {step.tools.length > 0 && ` · ${step.tools.join(", ")}`}
        {step.caution && step.caution_seen && ` · caution as before: ${step.caution}`}
        {step.check && ` · ${step.why}`}
        {` · handbook ${step.section}`}
      </Typography>
      {step.more && <Typography sx={{ fontSize: { xs: 16, sm: 22 } }}>{step.more}</Typography>}
    </>
  );
}

function Caution({ words }: { words: string }) {
  if (!words) return null;
  return (
    <Typography component="span" sx={{ display: "block", color: "error.main", fontWeight: 700 }}>
      ⚠ {words}
    </Typography>
  );
}

function Done({ card }: { card: Card }) {
  const done = card.steps[0]?.done;
  if (!done) return null;
  const also = done.also.length ? ` and ${done.also.join(", ")}` : "";
  return (
    <Typography role="status" sx={{ fontSize: { xs: 18, sm: 24 }, color: "success.main", fontWeight: 700 }}>
      ✓ Done by {done.person}
      {also}
      {done.already ? ", before it was ticked" : ""}
    </Typography>
  );
}

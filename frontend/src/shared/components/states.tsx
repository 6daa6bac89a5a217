import { Box, Button, LinearProgress, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { Problem } from "../../api/unwrap";
import { Fractions } from "./Fractions";

/** Something is on its way. */
export function Pending({ what }: { what: string }) {
  return (
    <Box role="status" aria-live="polite" sx={{ p: 3 }}>
      <Typography color="text.secondary">Getting {what} …</Typography>
      <LinearProgress color="secondary" aria-label={`Getting ${what}`} sx={{ mt: 1, maxWidth: 320 }} />
    </Box>
  );
}

/** What went wrong, why, and the mend. */
export function ErrorNote({ error, again }: { error: unknown; again?: () => void }) {
  const words =
    typeof error === "string"
      ? error
      : error instanceof Problem
        ? error.message
        : "The server does not answer. What you typed is kept on this screen; it is sent when the server is back.";
  return (
    <Box
      role="alert"
      sx={{ borderLeft: 6, borderColor: "error.main", bgcolor: "background.paper", p: 2, my: 1 }}
    >
      <Typography>{words}</Typography>
      {again && (
        <Button onClick={again} sx={{ mt: 1 }}>
          Try again
        </Button>
      )}
    </Box>
  );
}

/** Nothing here yet, and what to do first. */
export function Empty({ words, children }: { words: string; children?: ReactNode }) {
  return (
    <Box sx={{ p: 3, border: 1, borderStyle: "dashed", borderColor: "divider", my: 1 }}>
      <Typography sx={{ mb: children ? 2 : 0 }}>{words}</Typography>
      {children}
    </Box>
  );
}

/** The answer of a screen: its largest text, with one line of why. */
export function Answer({
  children,
  why,
  tone,
}: {
  children: ReactNode;
  why?: ReactNode;
  tone?: "good" | "bad" | "open";
}) {
  const color = tone === "bad" ? "error.main" : tone === "good" ? "success.main" : "text.primary";
  return (
    <Box aria-live="polite" sx={{ mb: 1.5 }}>
      <Typography variant="answer" component="p" data-answer sx={{ color }}>
        {typeof children === "string" ? <Fractions text={children} /> : children}
      </Typography>
      {why && <Typography sx={{ mt: 0.75, maxWidth: "120ch" }}>{why}</Typography>}
    </Box>
  );
}

/** A heading over a thin rule, as on a cutter's drawing. */
export function Ruled({
  title,
  children,
  action,
}: {
  title: string;
  children: ReactNode;
  action?: ReactNode;
}) {
  return (
    <Box component="section" aria-label={title} sx={{ mb: 3 }}>
      <Box
        sx={{
          display: "flex",
          alignItems: "end",
          justifyContent: "space-between",
          borderBottom: 2,
          borderColor: "text.primary",
          mb: 1,
          pb: 0.5,
          gap: 1,
          flexWrap: "wrap",
        }}
      >
        <Typography variant="h2">{title}</Typography>
        {action}
      </Box>
      {children}
    </Box>
  );
}

import { Box, Typography } from "@mui/material";
import type { Card, Run } from "../../logic/bay";

/** Which run, how far it is, and what is done with it as a whole. */
export function RunTop({
  run,
  card,
  at,
  cards,
  unsent,
  unfolded,
  onUnfold,
  onAlready,
  onLock,
  onPause,
  onClose,
}: {
  run: Run;
  card: Card | undefined;
  at: number;
  cards: readonly Card[];
  unsent: number;
  unfolded: boolean;
  onUnfold: () => void;
  onAlready: () => void;
  onLock: () => void;
  onPause: () => void;
  onClose: () => void;
}) {
  const minutes = card ? `about ${card.minutes.toFixed(card.minutes < 10 ? 1 : 0)} min` : "";
  return (
    <Box
      sx={{
        display: "flex",
        flexDirection: { xs: "column", sm: "row" },
        gap: { xs: 0.5, sm: 2 },
        alignItems: { xs: "stretch", sm: "center" },
        minWidth: 0,
      }}
    >
      <Box sx={{ flexGrow: 1, minWidth: 0 }}>
        <Typography noWrap sx={{ fontSize: { xs: 18, sm: 36 }, fontWeight: 700, lineHeight: 1.1 }}>
          {run.label}
          {run.strip ? ", old film" : ""}
        </Typography>
        <Typography noWrap sx={{ fontSize: { xs: 14, sm: 18 } }}>
          {cards.length > 0 && `${String(Math.min(at + 1, cards.length))} of ${String(cards.length)} · `}
          {card?.words} · {minutes}
          {card && card.own > 0 ? ` (own, n = ${String(card.own)})` : ""}
          {unsent > 0 && ` · ${String(unsent)} not sent yet`}
        </Typography>
      </Box>
      <Box
        sx={{
          display: "flex",
          gap: { xs: 0.5, sm: 2 },
          "& button": { minWidth: { xs: 44, sm: 88 }, flexGrow: { xs: 1, sm: 0 } },
        }}
      >
        <Low onClick={onUnfold} label={unfolded ? "Fold into phases" : "Unfold into steps"}>
          {unfolded ? "Fold" : "Unfold"}
        </Low>
        <Low onClick={onAlready} label="Done already, before this screen was opened: no time is kept">
          Already
        </Low>
        <Low onClick={onLock} label="Water lock">
          Lock
        </Low>
        <Low onClick={onPause} label={run.paused ? "Go on" : "Pause"}>
          {run.paused ? "Go on" : "Pause"}
        </Low>
        <Low onClick={onClose} label="Close the run">
          Close
        </Low>
      </Box>
    </Box>
  );
}

function Low({ children, label, onClick }: { children: string; label: string; onClick: () => void }) {
  return (
    <Box
      component="button"
      type="button"
      aria-label={label}
      onClick={onClick}
      sx={{
        minHeight: { xs: 48, sm: 88 },
        px: { xs: 0.75, sm: 2 },
        font: "inherit",
        fontSize: { xs: 14, sm: 20 },
        fontWeight: 600,
        color: "text.primary",
        bgcolor: "transparent",
        border: 1,
        borderColor: "text.primary",
        borderRadius: 0.5,
        cursor: "pointer",
      }}
    >
      {children}
    </Box>
  );
}

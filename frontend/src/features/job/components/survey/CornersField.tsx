import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import type { JobWindow } from "../../../../api/client";
import { WORDS } from "../../../../api/words";
import { Choice, Several } from "../../../../shared";
import type { ChangeWindow } from "./types";

/** Figures that are read; a drawn one comes by a file. */
const READ = Object.fromEntries(
  Object.entries(WORDS.Figure).filter(([figure]) => figure !== "drawn"),
) as Partial<typeof WORDS.Figure>;
const MANY = ["six", "seven", "eight"] as const;

/** How many corners; from six on, four with bows and radii are offered first. */
export function CornersField({ window, change }: { window: JobWindow; change: ChangeWindow }) {
  const [asked, setAsked] = useState<(typeof MANY)[number] | null>(null);
  const pick = (figure: JobWindow["figure"]) => {
    if (figure === "drawn") return;
    const many = MANY.find((one) => one === figure);
    if (many && !MANY.some((one) => one === window.figure)) setAsked(many);
    else change({ figure });
  };
  return (
    <>
      <Choice label="Corners" value={window.figure} options={READ} onChange={pick} sx={{ minWidth: 150 }} />
      {window.corner_names.length > 3 && (
        <Box sx={{ display: "grid", minWidth: 180 }}>
          <Several
            label="Pointing inward"
            value={window.reentrant}
            options={Object.fromEntries(window.corner_names.map((name) => [name, name.replace(/_/g, " ")]))}
            none="none"
            onChange={(reentrant) => change({ reentrant })}
          />
        </Box>
      )}
      {asked && (
        <Dialog open onClose={() => setAsked(null)}>
          <DialogTitle>Four corners with bows and radii?</DialogTitle>
          <DialogContent>
            <Typography>
              Most glass that looks like {WORDS.Figure[asked].toLowerCase()} corners is four with bowed edges
              and rounded corners: six readings instead of{" "}
              {asked === "six" ? 10 : asked === "seven" ? 12 : 14}.
            </Typography>
          </DialogContent>
          <DialogActions>
            <Button
              onClick={() => {
                change({ figure: asked });
                setAsked(null);
              }}
            >
              {WORDS.Figure[asked]} corners
            </Button>
            <Button
              variant="contained"
              onClick={() => {
                if (window.figure !== "four") change({ figure: "four" });
                setAsked(null);
              }}
            >
              Four with bows and radii
            </Button>
          </DialogActions>
        </Dialog>
      )}
    </>
  );
}

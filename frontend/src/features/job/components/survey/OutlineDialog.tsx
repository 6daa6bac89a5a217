import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { JobWindow } from "../../../../api/client";
import { Problem } from "../../../../api/unwrap";
import { ErrorNote, PaneShape, showLength, TapeField, useSettings } from "../../../../shared";
import { readDrawing, useOnWindow } from "../../survey";

interface Props {
  jobId: string;
  window: JobWindow;
  file: File;
  onClose: () => void;
}

/** What a drawing says, looked at before it is taken: its outline, its size, and what was repaired or left out. */
export function OutlineDialog({ jobId, window, file, onClose }: Props) {
  const { unit } = useSettings();
  const { act, pending, error } = useOnWindow(jobId);
  const [width, setWidth] = useState("");
  const drawing = useQuery({
    queryKey: ["drawing", file.name, file.size, file.lastModified, width],
    queryFn: async () => readDrawing({ content: await file.text(), width }),
    retry: false,
  });
  const found = drawing.data;
  const ready = found?.scale_known ?? false;
  const take = () => {
    if (found) act(window.id, { what: "outline", ring: found.ring }, onClose);
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="outline-title">
      <DialogTitle id="outline-title">
        {window.label}: outline from {file.name}
      </DialogTitle>
      <DialogContent>
        {drawing.isPending && <Typography role="status">Reading the drawing …</Typography>}
        {drawing.isError && <ErrorNote error={drawing.error} />}
        {error && <ErrorNote error={error} />}
        {found && (
          <>
            <Typography variant="answer" component="p">
              {ready
                ? `${showLength(found.width_mm, unit)} × ${showLength(found.height_mm, unit)}`
                : "How wide is it?"}
            </Typography>
            <Preview ring={found.ring} />
            {found.findings.length > 0 && (
              <Box component="ol" sx={{ pl: 3, my: 1 }} aria-label="What was found in the drawing">
                {found.findings.map((one) => (
                  <li key={one.number} value={one.number}>
                    {one.words}
                  </li>
                ))}
              </Box>
            )}
          </>
        )}
        {(found && !ready) || width !== "" || refusedWidth(drawing.error) ? (
          <TapeField
            label="Greatest width of the pane"
            draftKey={`${window.id}.drawing`}
            saved={width}
            refused={refusedWidth(drawing.error)}
            onCommit={(typed) => setWidth(typed ?? "")}
          />
        ) : null}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it</Button>
        <Button variant="contained" color="secondary" disabled={!ready || pending} onClick={take}>
          Take this outline
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function refusedWidth(error: Error | null): string | undefined {
  return error instanceof Problem ? error.fields["width"] : undefined;
}

function Preview({ ring }: { ring: readonly (readonly number[])[] }) {
  const wide = Math.max(...ring.map(([x = 0]) => x), 1);
  const high = Math.max(...ring.map(([, y = 0]) => y), 1);
  const scale = Math.min(460 / wide, 180 / high);
  return (
    <Box
      component="svg"
      viewBox="0 0 480 200"
      role="img"
      aria-label="The outline, seen from outside"
      sx={{ width: "100%", color: "text.primary" }}
    >
      <PaneShape
        ring={ring}
        measured
        scale={scale}
        left={(480 - wide * scale) / 2}
        base={100 + (high * scale) / 2}
        fill="none"
        stroke="currentColor"
        strokeWidth={2.5}
      />
    </Box>
  );
}

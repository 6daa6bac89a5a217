import { Box, Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Job, JobWindow, Schemas } from "../../../../api/client";
import { ErrorNote, FileButton, PaneShape, Row, Ruled, showLength, useSettings } from "../../../../shared";
import { nearQuery, useOnWindow } from "../../survey";
import { OutlineDialog } from "./OutlineDialog";

/** Where this glass is measured already: the record it came from, records near its size, or a drawing. */
export function FromShelf({ job, window }: { job: Job; window: JobWindow }) {
  const [open, setOpen] = useState(false);
  const [file, setFile] = useState<File | null>(null);
  const { shelf } = window;
  return (
    <Ruled
      title="Glass shelf"
      action={
        <Row>
          {window.readings["width"] && window.readings["height"] && (
            <Button size="small" aria-expanded={open} onClick={() => setOpen(!open)}>
              Glass near this size
            </Button>
          )}
          <FileButton
            words="Outline from a drawing"
            label="SVG or DXF drawing"
            accept=".svg,.dxf,image/svg+xml"
            disabled={false}
            onChosen={setFile}
          />
        </Row>
      }
    >
      {shelf ? (
        <Typography>
          From <Link to={`/shelf/${shelf.car_id}`}>{shelf.car}</Link>, version {shelf.revision}
          {shelf.newest > shelf.revision ? `; the shelf now has version ${shelf.newest}` : ""}.
        </Typography>
      ) : (
        !open && (
          <Typography color="text.secondary">
            Measured once, kept for ever: the whole car puts its glass on the shelf.
          </Typography>
        )
      )}
      {open && <Near job={job} window={window} />}
      {file && <OutlineDialog jobId={job.id} window={window} file={file} onClose={() => setFile(null)} />}
    </Ruled>
  );
}

function Near({ job, window }: { job: Job; window: JobWindow }) {
  const near = useQuery(nearQuery(window.id, window.version));
  const { act, pending } = useOnWindow(job.id);
  if (near.isError) return <ErrorNote error={near.error} again={() => void near.refetch()} />;
  if (near.isPending) return <Typography role="status">Looking along the shelf …</Typography>;
  if (near.data.near.length === 0)
    return <Typography>No glass of this kind on the shelf comes near these two sizes.</Typography>;
  const take = (pane: string, scaled: boolean) => act(window.id, { what: "from-shelf", pane, scaled });
  return (
    <>
      {near.data.near.map((one) => (
        <NearRow key={one.pane_id} near={one} busy={pending} onTake={(scaled) => take(one.pane_id, scaled)} />
      ))}
    </>
  );
}

function NearRow({
  near,
  busy,
  onTake,
}: {
  near: Schemas["NearOut"];
  busy: boolean;
  onTake: (scaled: boolean) => void;
}) {
  const { unit } = useSettings();
  const wide = Math.max(...near.ring.map(([x = 0]) => x), 1);
  const high = Math.max(...near.ring.map(([, y = 0]) => y), 1);
  const scale = Math.min(88 / wide, 48 / high);
  return (
    <Box
      sx={{ display: "flex", gap: 1.5, alignItems: "center", borderTop: 1, borderColor: "divider", py: 1 }}
    >
      <Box
        component="svg"
        viewBox="0 0 92 52"
        aria-hidden="true"
        sx={{ width: 92, height: 52, flexShrink: 0, color: "text.primary" }}
      >
        <PaneShape
          ring={near.ring}
          measured
          scale={scale}
          left={(92 - wide * scale) / 2}
          base={26 + (high * scale) / 2}
          fill="none"
          stroke="currentColor"
          strokeWidth={2}
        />
      </Box>
      <Box sx={{ flexGrow: 1 }}>
        <Typography sx={{ fontWeight: 700 }}>
          off by {showLength(near.misfit_mm, unit)} {near.made_up ? "· made up" : ""}
        </Typography>
        <Typography variant="body2">
          {near.car}, {near.label}: {near.told}
        </Typography>
      </Box>
      <Button disabled={busy} onClick={() => onTake(false)}>
        Take it
      </Button>
      <Button disabled={busy} onClick={() => onTake(true)}>
        Stretched to fit
      </Button>
    </Box>
  );
}

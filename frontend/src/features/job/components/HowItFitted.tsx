import { Button } from "@mui/material";
import { useState } from "react";
import type { JobWindow } from "../../../api/client";
import { FittedDialog } from "../../../shared";
import { useFitted } from "../survey";

/** After cutting: the installer's word goes to the record that the piece was cut by. */
export function HowItFitted({ jobId, window }: { jobId: string; window: JobWindow }) {
  const [open, setOpen] = useState(false);
  const fitted = useFitted(jobId);
  const { shelf } = window;
  if (!shelf) return null;
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)}>
        How did it fit?
      </Button>
      {open && (
        <FittedDialog
          label={window.label}
          corners={window.figure === "drawn" ? 0 : window.corner_names.length}
          onClose={() => setOpen(false)}
          onTold={(told) =>
            fitted.write(
              { pane: shelf.pane_id, body: { ...told, version: shelf.version } },
              { onSuccess: () => setOpen(false) },
            )
          }
        />
      )}
    </>
  );
}

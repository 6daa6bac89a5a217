import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { Job } from "../../../../api/client";
import { FileButton } from "../../../../shared";
import { asPhoto, type OnPicture } from "../../logic/photo";
import type { Flaw } from "../../look";
import { useAddPhoto } from "../../survey";

/** A photo of the flaw: a touch on it rings the place, then it is kept. */
export function MarkedPhoto({ job, flaw }: { job: Job; flaw: Flaw }) {
  const { add, pending } = useAddPhoto(job.id);
  const client = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  const [mark, setMark] = useState<OnPicture | null>(null);
  const [problem, setProblem] = useState("");
  const shown = useObjectUrl(file);
  const close = () => {
    setFile(null);
    setMark(null);
  };
  const keep = () => {
    if (!file) return;
    asPhoto(file, mark).then(
      (content) => {
        add({ content, window_id: flaw.window_id, flaw_id: flaw.id }, () => {
          void client.invalidateQueries({ queryKey: ["look", job.id] });
        });
        close();
      },
      () => {
        setProblem(`${file.name} is no picture that this browser can open. Take a JPEG or PNG.`);
        close();
      },
    );
  };
  return (
    <>
      <FileButton
        words={pending ? "Keeping it …" : "Photo"}
        label="Photo of the flaw"
        accept="image/*"
        disabled={pending}
        onChosen={(chosen) => {
          setProblem("");
          setFile(chosen);
        }}
      />
      {problem && (
        <Typography role="alert" color="error.main">
          {problem}
        </Typography>
      )}
      <Dialog open={file !== null} onClose={close} maxWidth="md" aria-labelledby="photo-title">
        <DialogTitle id="photo-title">Touch the place: {flaw.words}</DialogTitle>
        <DialogContent>
          <Box
            sx={{ position: "relative", display: "inline-block", cursor: "crosshair", lineHeight: 0 }}
            data-photo-place
            onClick={(event) => {
              const box = event.currentTarget.getBoundingClientRect();
              setMark({
                x: (event.clientX - box.left) / box.width,
                y: (event.clientY - box.top) / box.height,
              });
            }}
          >
            {shown && (
              <img
                src={shown}
                alt="As taken"
                style={{ maxWidth: "100%", maxHeight: "60vh", minWidth: 200, minHeight: 120 }}
              />
            )}
            {mark && (
              <Box
                sx={{
                  position: "absolute",
                  left: `${String(100 * mark.x)}%`,
                  top: `${String(100 * mark.y)}%`,
                  width: 48,
                  height: 48,
                  transform: "translate(-50%, -50%)",
                  border: "4px solid",
                  borderColor: "secondary.main",
                  outline: "3px solid #fff",
                  borderRadius: "50%",
                  pointerEvents: "none",
                }}
              />
            )}
          </Box>
        </DialogContent>
        <DialogActions>
          <Button variant="text" onClick={close}>
            Leave it
          </Button>
          <Button variant="contained" onClick={keep}>
            {mark ? "Keep it with the ring" : "Keep it without a ring"}
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}

/** An address for a file of this screen, given back when it is no longer shown. */
function useObjectUrl(file: File | null): string | null {
  const [url, setUrl] = useState<string | null>(null);
  useEffect(() => {
    if (!file) return;
    const made = URL.createObjectURL(file);
    // The address belongs to the browser, not to React: it is made and given back here.
    // eslint-disable-next-line react-hooks/set-state-in-effect
    setUrl(made);
    return () => {
      URL.revokeObjectURL(made);
      setUrl(null);
    };
  }, [file]);
  return url;
}

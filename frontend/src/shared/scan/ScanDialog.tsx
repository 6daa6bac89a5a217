import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { ErrorNote } from "../components/states";
import { FileButton } from "../components/FileButton";
import { TextLine } from "../fields/Fields";
import { decode, decodeFile, pixels } from "./decode";

const LOOK_EVERY_MS = 200;
/** Room that is kept whether there is a camera or not: nothing under it moves when that becomes known. */
const CAMERA_PX = 150;
const NO_CAMERA =
  "No camera is open to this page: this device has none, or its browser gives it only to https addresses. " +
  "Take a picture of the label instead, or type the code.";

/** A label's code by camera, from a picture, or typed. */
export function ScanDialog({
  onCode,
  error,
  onClose,
}: {
  onCode: (code: string) => void;
  error: unknown;
  onClose: () => void;
}) {
  const [typed, setTyped] = useState("");
  const [told, setTold] = useState("");
  const fromFile = (file: File) => {
    setTold("");
    decodeFile(file)
      .then((code) => {
        if (code) onCode(code);
        else setTold("No code was found in that picture. Come closer, hold still, light from the side.");
      })
      .catch(() => setTold("That file is no picture this browser can open."));
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs" aria-labelledby="scan-title">
      <DialogTitle id="scan-title">Find by the label’s code</DialogTitle>
      <DialogContent>
        <Camera onCode={onCode} />
        {told && <ErrorNote error={told} />}
        {error !== null && <ErrorNote error={error} />}
        <Box
          component="form"
          sx={{ display: "flex", gap: 1, mt: 1.5, alignItems: "start" }}
          onSubmit={(event) => {
            event.preventDefault();
            if (typed.trim()) onCode(typed.trim());
          }}
        >
          <Box sx={{ flexGrow: 1 }}>
            <TextLine label="Code" value={typed} hint="as under the square" onChange={setTyped} />
          </Box>
          <Button type="submit" variant="contained" color="secondary" disabled={!typed.trim()}>
            Find
          </Button>
        </Box>
      </DialogContent>
      <DialogActions>
        <FileButton
          words="From a picture"
          label="Picture of a label"
          disabled={false}
          accept="image/*"
          onChosen={fromFile}
        />
        <Button variant="text" onClick={onClose}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** The camera's picture, looked at five times a second until a code is in it. */
function Camera({ onCode }: { onCode: (code: string) => void }) {
  const video = useRef<HTMLVideoElement>(null);
  const found = useRef(onCode);
  const [missing, setMissing] = useState(() => !("mediaDevices" in navigator));
  useEffect(() => {
    found.current = onCode;
  }, [onCode]);
  useEffect(() => {
    if (missing) return;
    let stream: MediaStream | null = null;
    let ended = false;
    const look = window.setInterval(() => {
      const shown = video.current;
      if (!shown || shown.videoWidth === 0) return;
      const image = pixels(shown, shown.videoWidth, shown.videoHeight);
      const code = image && decode(image);
      if (code) {
        window.clearInterval(look);
        found.current(code);
      }
    }, LOOK_EVERY_MS);
    navigator.mediaDevices
      .getUserMedia({ video: { facingMode: "environment" } })
      .then(async (opened) => {
        if (ended) {
          opened.getTracks().forEach((track) => track.stop());
          return;
        }
        stream = opened;
        if (video.current) {
          video.current.srcObject = opened;
          await video.current.play();
        }
      })
      .catch(() => setMissing(true));
    return () => {
      ended = true;
      window.clearInterval(look);
      stream?.getTracks().forEach((track) => track.stop());
    };
  }, [missing]);
  if (missing)
    return (
      <Typography color="text.secondary" sx={{ minHeight: CAMERA_PX }}>
        {NO_CAMERA}
      </Typography>
    );
  return (
    <Box
      component="video"
      ref={video}
      muted
      playsInline
      aria-label="What the camera sees"
      sx={{ width: "100%", minHeight: CAMERA_PX, maxHeight: 300, bgcolor: "text.primary" }}
    />
  );
}

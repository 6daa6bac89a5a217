import { Box, Dialog, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Job } from "../../../../api/client";
import { FileButton, Switch } from "../../../../shared";
import { asPhoto } from "../../logic/photo";
import type { Bay } from "../../logic/bay";
import { useAddPhoto } from "../../survey";
import { Big } from "./Big";

export interface WhatWentWrong {
  what: string;
  spoilt: boolean;
  note: string;
}

const PIECE = { usual: "as it usually is", spoilt: "piece is scrap", sound: "piece is sound" } as const;

/** Two touches from any step: what went wrong. Word, photo and another judgement of the piece are there for who wants them. */
export function WentWrong({
  job,
  bay,
  windowId,
  onSaid,
  onClose,
}: {
  job: Job;
  bay: Bay;
  windowId: string | null;
  onSaid: (said: WhatWentWrong) => void;
  onClose: () => void;
}) {
  const [piece, setPiece] = useState<keyof typeof PIECE>("usual");
  const [note, setNote] = useState("");
  const { add, pending } = useAddPhoto(job.id);
  const [told, setTold] = useState("");
  const take = (file: File) =>
    asPhoto(file).then(
      (content) => {
        add({ content, window_id: windowId });
        setTold("Photo kept with the job.");
      },
      () => setTold("That is no picture that this browser can open."),
    );
  return (
    <Dialog fullScreen open onClose={onClose} slotProps={{ paper: { "aria-label": "What went wrong" } }}>
      <Box sx={{ p: 2, display: "flex", flexDirection: "column", gap: 2, minHeight: "100%" }}>
        <Typography sx={{ fontSize: { xs: 28, sm: 44 }, fontWeight: 700, lineHeight: 1.1 }}>
          What went wrong?
        </Typography>
        <Box
          sx={{
            display: "grid",
            gap: 2,
            gridTemplateColumns: { xs: "1fr 1fr", sm: "repeat(3, 1fr)", md: "repeat(5, 1fr)" },
          }}
        >
          {bay.wrongs.map((one) => {
            const spoilt = piece === "usual" ? one.spoils : piece === "spoilt";
            return (
              <Big key={one.id} low onClick={() => onSaid({ what: one.id, spoilt, note: note.trim() })}>
                <span>
                  {one.words}
                  <Typography component="span" sx={{ display: "block", fontSize: { xs: 14, sm: 16 } }}>
                    {spoilt ? "scrap: cut again" : "mended here"}
                  </Typography>
                </span>
              </Big>
            );
          })}
        </Box>
        <Switch label="The piece" value={piece} options={PIECE} onChange={setPiece} />
        <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap", alignItems: "center" }}>
          <TextField
            label="In a word, if you like"
            value={note}
            onChange={(event) => setNote(event.target.value)}
            slotProps={{ htmlInput: { maxLength: 200 } }}
            sx={{ flexGrow: 1, minWidth: 220 }}
          />
          <FileButton
            words={pending ? "Keeping it …" : "Photo"}
            label="Photo of what went wrong"
            accept="image/*"
            disabled={pending}
            onChosen={(file) => void take(file)}
          />
        </Box>
        {told && <Typography role="status">{told}</Typography>}
        <Box sx={{ flexGrow: 1 }} />
        <Big onClick={onClose}>Nothing: back to the step</Big>
      </Box>
    </Dialog>
  );
}

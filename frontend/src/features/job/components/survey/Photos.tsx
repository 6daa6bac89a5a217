import { Box, Typography } from "@mui/material";
import { useState } from "react";
import type { Job } from "../../../../api/client";
import { FileButton, Row, Ruled } from "../../../../shared";
import { asPhoto } from "../../logic/photo";
import { useAddPhoto } from "../../survey";

/** Pictures of the car or of one window, made smaller before they are kept. */
export function Photos({ job, windowId }: { job: Job; windowId: string | null }) {
  const { add, pending } = useAddPhoto(job.id);
  const [problem, setProblem] = useState("");
  const shown = job.photos.filter((photo) => windowId === null || photo.window_id === windowId);
  const take = (file: File) => {
    setProblem("");
    asPhoto(file).then(
      (content) => add({ content, window_id: windowId }),
      () => setProblem(`${file.name} is no picture that this browser can open. Take a JPEG or PNG.`),
    );
  };
  const labelOf = (id: string | null) => job.windows.find((one) => one.id === id)?.label ?? "the car";
  return (
    <Ruled
      title="Photos"
      action={
        <FileButton
          words={pending ? "Keeping it …" : "Take a photo"}
          label="Photo"
          accept="image/*"
          disabled={pending}
          onChosen={take}
        />
      }
    >
      {problem && (
        <Typography role="alert" sx={{ color: "error.main" }}>
          {problem}
        </Typography>
      )}
      {shown.length === 0 && <Typography color="text.secondary">None yet.</Typography>}
      <Row>
        {shown.map((photo) => {
          const url = `/api/jobs/${job.id}/photos/${photo.id}`;
          const words = `${labelOf(photo.window_id)}, ${photo.person}`;
          return (
            <Box key={photo.id} component="figure" sx={{ m: 0 }}>
              <a href={url} target="_blank" rel="noreferrer">
                <img
                  src={url}
                  alt={words}
                  loading="lazy"
                  style={{ height: 96, width: 140, objectFit: "cover" }}
                />
              </a>
              <Typography component="figcaption" variant="caption">
                {words}
              </Typography>
            </Box>
          );
        })}
      </Row>
    </Ruled>
  );
}

import { Button } from "@mui/material";
import { useRef } from "react";

const JSON_FILE = ".json,application/json";

interface Props {
  words: string;
  /** Name of the field for those who do not see it. */
  label: string;
  disabled: boolean;
  accept?: string;
  onChosen: (file: File) => void;
}

/** A button that asks for a file; the same file may be chosen twice running. */
export function FileButton({ words, label, disabled, accept = JSON_FILE, onChosen }: Props) {
  const field = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button onClick={() => field.current?.click()} disabled={disabled}>
        {words}
      </Button>
      <input
        ref={field}
        type="file"
        accept={accept}
        hidden
        aria-label={label}
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          if (chosen) onChosen(chosen);
          event.target.value = "";
        }}
      />
    </>
  );
}

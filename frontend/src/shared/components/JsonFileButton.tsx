import { Button } from "@mui/material";
import { useRef } from "react";

interface Props {
  words: string;
  /** Name of the field for those who do not see it. */
  label: string;
  disabled: boolean;
  onChosen: (file: File) => void;
}

/** A button that asks for a JSON file; the same file may be chosen twice running. */
export function JsonFileButton({ words, label, disabled, onChosen }: Props) {
  const field = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button onClick={() => field.current?.click()} disabled={disabled}>
        {words}
      </Button>
      <input
        ref={field}
        type="file"
        accept=".json,application/json"
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

import { TextField } from "@mui/material";
import { focusWhenShown } from "../../../shared";

/** A password or PIN as it is typed. */
export function SecretField({
  label,
  value,
  onChange,
  problem,
  hint,
  fresh = false,
  digits = false,
  focus = false,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  problem?: string | undefined;
  hint?: string | undefined;
  /** It is chosen now, not remembered. */
  fresh?: boolean;
  digits?: boolean;
  focus?: boolean;
}) {
  return (
    <TextField
      type="password"
      label={label}
      value={value}
      error={Boolean(problem)}
      helperText={problem ?? hint}
      onChange={(event) => onChange(event.target.value)}
      {...(focus ? { inputRef: focusWhenShown } : {})}
      slotProps={{
        htmlInput: {
          autoComplete: fresh ? "new-password" : "current-password",
          ...(digits ? { inputMode: "numeric", maxLength: 8 } : { maxLength: 200 }),
        },
      }}
    />
  );
}

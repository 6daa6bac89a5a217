import { Checkbox, FormControlLabel, MenuItem, TextField, type TextFieldProps } from "@mui/material";
import type { ReactNode } from "react";

type Options<Value extends string> = Readonly<Partial<Record<Value, string>>>;

interface FieldProps<Value> {
  label: string;
  value: Value;
  onChange: (value: Value) => void;
  disabled?: boolean | undefined;
  /** Why the value was refused. */
  problem?: string | undefined;
  hint?: string | undefined;
}

/** One of several words. */
export function Choice<Value extends string>({
  label,
  value,
  options,
  onChange,
  disabled,
  problem,
  hint,
  sx,
}: FieldProps<Value> & { options: Options<Value>; sx?: TextFieldProps["sx"] }) {
  return (
    <TextField
      select
      label={label}
      value={value}
      {...(disabled !== undefined && { disabled })}
      error={Boolean(problem)}
      helperText={problem ?? hint}
      onChange={(event) => onChange(event.target.value as Value)}
      {...(sx ? { sx } : {})}
    >
      {menu(options)}
    </TextField>
  );
}

/** One of several records, or none: none has words of its own. */
export function PickOne({
  label,
  value,
  none,
  options,
  onChange,
}: {
  label: string;
  value: string | null;
  none: string;
  options: readonly (readonly [string, ReactNode])[];
  onChange: (value: string | null) => void;
}) {
  return (
    <TextField
      select
      label={label}
      value={value ?? ""}
      onChange={(event) => onChange(event.target.value === "" ? null : event.target.value)}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      <MenuItem value="">{none}</MenuItem>
      {options.map(([id, words]) => (
        <MenuItem key={id} value={id}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** Any of several words. */
export function Several<Value extends string>({
  label,
  value,
  options,
  onChange,
  none,
}: {
  label: string;
  value: readonly Value[];
  options: Options<Value>;
  onChange: (value: Value[]) => void;
  none: string;
}) {
  const shown = (chosen: unknown) => (chosen as Value[]).map((one) => options[one] ?? one).join(", ") || none;
  return (
    <TextField
      select
      label={label}
      value={value}
      onChange={(event) => onChange(event.target.value as unknown as Value[])}
      slotProps={{
        select: { multiple: true, displayEmpty: true, renderValue: shown },
        inputLabel: { shrink: true },
      }}
    >
      {menu(options)}
    </TextField>
  );
}

function menu(options: Options<string>) {
  return Object.entries(options).map(([key, words]) => (
    <MenuItem key={key} value={key}>
      {words}
    </MenuItem>
  ));
}

/** Yes, no, or what “nobody said” is called. */
export function YesNo({
  label,
  value,
  unknown,
  problem,
  onChange,
}: {
  label: string;
  value: boolean | null;
  unknown: string;
  problem?: string | undefined;
  onChange: (value: boolean | null) => void;
}) {
  return (
    <Choice
      problem={problem}
      label={label}
      value={value === null ? "unknown" : value ? "yes" : "no"}
      options={{ yes: "yes", no: "no", unknown }}
      onChange={(chosen) => onChange(chosen === "unknown" ? null : chosen === "yes")}
    />
  );
}

/** A box to tick. */
export function Tick({
  label,
  value,
  onChange,
  disabled = false,
  of,
}: {
  label: string;
  /** What is ticked, where the label says only whether: for who does not see the row and column. */
  of?: string;
  value: boolean;
  onChange: (value: boolean) => void;
  disabled?: boolean;
}) {
  return (
    <FormControlLabel
      control={
        <Checkbox
          checked={value}
          disabled={disabled}
          onChange={(_, checked) => onChange(checked)}
          slotProps={of === undefined ? {} : { input: { "aria-label": `${of}: ${label}` } }}
        />
      }
      label={label}
    />
  );
}

/** A line of text. */
export function TextLine({
  label,
  value,
  onChange,
  onBlur,
  problem,
  hint,
  inputMode,
  inputRef,
  required,
  disabled,
}: FieldProps<string> & {
  onBlur?: () => void;
  inputMode?: "decimal" | "numeric";
  inputRef?: React.Ref<HTMLInputElement>;
  required?: boolean;
}) {
  return (
    <TextField
      label={label}
      value={value}
      required={required ?? false}
      disabled={disabled ?? false}
      error={Boolean(problem)}
      helperText={problem ?? hint}
      onChange={(event) => onChange(event.target.value)}
      onBlur={onBlur}
      inputRef={inputRef}
      {...(inputMode ? { slotProps: { htmlInput: { inputMode } } } : {})}
    />
  );
}

/** A day, or none. */
export function DayField({ label, value, onChange, problem, hint }: FieldProps<string | null>) {
  return (
    <TextField
      type="date"
      label={label}
      value={value ?? ""}
      error={Boolean(problem)}
      helperText={problem ?? hint}
      onChange={(event) => onChange(event.target.value || null)}
      slotProps={{ inputLabel: { shrink: true } }}
    />
  );
}

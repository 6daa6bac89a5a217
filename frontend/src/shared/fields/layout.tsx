import { Box, ToggleButton, ToggleButtonGroup } from "@mui/material";
import type { ReactNode } from "react";

/** Fields side by side, as many as have room. */
export function FieldGrid({ children, columns = 2 }: { children: ReactNode; columns?: number }) {
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))`,
        gap: 1.5,
        mt: 1.5,
      }}
    >
      {children}
    </Box>
  );
}

/** Buttons and small things in a row that wraps. */
export function Row({ children, gap = 1.5 }: { children: ReactNode; gap?: number }) {
  return <Box sx={{ display: "flex", gap, flexWrap: "wrap", alignItems: "center" }}>{children}</Box>;
}

/** The answer's side and the other side; one above the other on a phone. */
export function TwoColumns({ children, shares = "1fr 1fr" }: { children: ReactNode; shares?: string }) {
  const columns = shares
    .split(" ")
    .map((share) => `minmax(0, ${share})`)
    .join(" ");
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "minmax(0, 1fr)", md: columns },
        columnGap: 3,
        rowGap: 2,
      }}
    >
      {children}
    </Box>
  );
}

/** A head with its buttons at the right. */
export function Head({ children, buttons }: { children: ReactNode; buttons?: ReactNode }) {
  return (
    <Box
      sx={{
        display: "flex",
        columnGap: 2,
        rowGap: 1,
        alignItems: "start",
        flexWrap: "wrap",
        mb: { xs: 1.5, md: 0 },
      }}
    >
      <Box sx={{ flexGrow: 1 }}>{children}</Box>
      {buttons}
    </Box>
  );
}

/** One of a few, all of them seen. */
export function Switch<Value extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: Value;
  options: Readonly<Partial<Record<Value, string>>>;
  onChange: (value: Value) => void;
}) {
  return (
    <ToggleButtonGroup
      exclusive
      size="small"
      value={value}
      aria-label={label}
      onChange={(_, chosen: Value | null) => {
        if (chosen !== null) onChange(chosen);
      }}
    >
      {Object.entries(options).map(([key, words]) => (
        <ToggleButton key={key} value={key}>
          {words as string}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}

import { Button } from "@mui/material";
import type { ReactNode } from "react";

/** A button for a wet glove: next and back are at least 120 px high, others 88. */
export function Big({
  children,
  primary,
  disabled,
  low,
  label,
  onClick,
}: {
  children: ReactNode;
  primary?: boolean | undefined;
  disabled?: boolean | undefined;
  low?: boolean | undefined;
  label?: string;
  onClick: () => void;
}) {
  return (
    <Button
      variant={primary ? "contained" : "outlined"}
      disabled={disabled ?? false}
      onClick={onClick}
      {...(label ? { "aria-label": label } : {})}
      sx={{
        minHeight: low ? 88 : 120,
        fontSize: { xs: 20, sm: low ? 22 : 30 },
        lineHeight: 1.1,
        whiteSpace: "normal",
        px: { xs: 1, sm: 2 },
        touchAction: "manipulation",
      }}
    >
      {children}
    </Button>
  );
}

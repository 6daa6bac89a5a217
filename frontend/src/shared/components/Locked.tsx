import { Box, createTheme, ThemeProvider, Typography, type Theme } from "@mui/material";
import type { ReactNode } from "react";

interface Props {
  /** Why nothing can be changed, and the mend; null while everything can. */
  why: string | null;
  children: ReactNode;
}

/** What can be read, but not changed: its fields say what was, and its buttons rest. */
export function Locked({ why, children }: Props) {
  if (why === null) return children;
  return (
    <ThemeProvider theme={resting}>
      <Typography role="note" sx={{ my: 1, fontWeight: 700 }}>
        {why}
      </Typography>
      <Box
        component="fieldset"
        disabled
        sx={({ inks }) => ({
          border: 0,
          p: 0,
          m: 0,
          minWidth: 0,
          "& button:disabled": { pointerEvents: "none" },
          "& button:disabled:not([aria-pressed=true])": { opacity: 0.6 },
          "& .Mui-disabled, & input:disabled, & textarea:disabled": {
            color: inks.ink,
            WebkitTextFillColor: inks.ink,
          },
        })}
      >
        {children}
      </Box>
    </ThemeProvider>
  );
}

/** Lists to choose from are no inputs of the page, so the fieldset alone does not hold them. */
function resting(theme: Theme): Theme {
  const { MuiTextField } = theme.components ?? {};
  return createTheme({
    ...theme,
    components: {
      ...theme.components,
      MuiTextField: { ...MuiTextField, defaultProps: { ...MuiTextField?.defaultProps, disabled: true } },
    },
  });
}

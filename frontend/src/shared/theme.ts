import { createTheme, type Theme } from "@mui/material/styles";

/** Bench is for paper and lamp; the bay settings are for wet glare and for shade. */
export type Setting = "bench" | "bay-light" | "bay-dark";

interface Inks {
  paper: string;
  sheet: string;
  ink: string;
  soft: string;
  rule: string;
  sun: string;
  onSun: string;
  shade: string;
  bad: string;
  good: string;
}

export const INKS: Record<Setting, Inks> = {
  bench: {
    paper: "#ece6db",
    sheet: "#f8f5ee",
    ink: "#1f1b16",
    soft: "#5a5147",
    rule: "#bdb2a1",
    sun: "#9a4d00",
    onSun: "#ffffff",
    shade: "#3d3650",
    bad: "#9b1c1c",
    good: "#2f5d1e",
  },
  "bay-light": {
    paper: "#ffffff",
    sheet: "#ffffff",
    ink: "#000000",
    soft: "#2b2b2b",
    rule: "#555555",
    sun: "#8a4300",
    onSun: "#ffffff",
    shade: "#2b2440",
    bad: "#8b0000",
    good: "#1c4a0d",
  },
  "bay-dark": {
    paper: "#0d0c10",
    sheet: "#17151c",
    ink: "#ffffff",
    soft: "#d5d0de",
    rule: "#6a6478",
    sun: "#ffb52e",
    onSun: "#1f1400",
    shade: "#c3b8e8",
    bad: "#ff9a8a",
    good: "#b6e39a",
  },
};

const TEXT = '"Barlow", sans-serif';
/** Sizes and counts: one width a figure, so that columns stand. */
export const MONO = '"B612 Mono", monospace';

declare module "@mui/material/styles" {
  interface Theme {
    inks: Inks;
  }
  interface ThemeOptions {
    inks?: Inks;
  }
  interface TypographyVariants {
    answer: React.CSSProperties;
    size: React.CSSProperties;
  }
  interface TypographyVariantsOptions {
    answer?: React.CSSProperties;
    size?: React.CSSProperties;
  }
}
declare module "@mui/material/Typography" {
  interface TypographyPropsVariantOverrides {
    answer: true;
    size: true;
  }
}

/** For who asked the device for less motion: nothing slides or fades. */
const STILL = {
  create: () => "none",
  duration: {
    shortest: 0,
    shorter: 0,
    short: 0,
    standard: 0,
    complex: 0,
    enteringScreen: 0,
    leavingScreen: 0,
  },
};

export function makeTheme(setting: Setting, { still = false } = {}): Theme {
  const inks = INKS[setting];
  const bay = setting !== "bench";
  const target = bay ? 56 : 40;
  return createTheme({
    inks,
    ...(still && { transitions: STILL }),
    palette: {
      mode: setting === "bay-dark" ? "dark" : "light",
      primary: { main: inks.ink, contrastText: inks.paper },
      secondary: { main: inks.sun, contrastText: inks.onSun },
      error: { main: inks.bad },
      success: { main: inks.good },
      background: { default: inks.paper, paper: inks.sheet },
      text: { primary: inks.ink, secondary: inks.soft },
      divider: inks.rule,
    },
    shape: { borderRadius: 2 },
    shadows: Array(25).fill("none") as Theme["shadows"],
    typography: {
      fontFamily: TEXT,
      fontSize: bay ? 16 : 15,
      h1: { fontSize: "1.5rem", fontWeight: 700, letterSpacing: "-0.01em" },
      h2: { fontSize: "1.15rem", fontWeight: 700 },
      h3: { fontSize: "1rem", fontWeight: 700 },
      body1: { fontSize: bay ? "1.15rem" : "1rem" },
      body2: { fontSize: bay ? "1.05rem" : "0.92rem" },
      button: { textTransform: "none", fontWeight: 600, fontSize: "1rem" },
      caption: { fontSize: "0.85rem" },
      answer: {
        fontFamily: TEXT,
        fontSize: "2.6rem",
        lineHeight: 1.05,
        fontWeight: 700,
        letterSpacing: "-0.02em",
        display: "block",
      },
      size: { fontFamily: MONO, fontSize: "1rem" },
    },
    components: {
      MuiCssBaseline: {
        styleOverrides: {
          body: { fontVariantNumeric: "tabular-nums", backgroundColor: inks.paper },
          a: { color: inks.ink },
          "*:focus-visible": { outline: `3px solid ${inks.sun}`, outlineOffset: 2 },
          "@media print": { body: { backgroundColor: "#fff" } },
        },
      },
      MuiButtonBase: { defaultProps: { disableRipple: true } },
      MuiButton: {
        defaultProps: { variant: "outlined", disableElevation: true },
        styleOverrides: {
          root: { minHeight: target, borderColor: inks.ink, whiteSpace: "nowrap", fontSize: "1rem" },
        },
      },
      MuiIconButton: { styleOverrides: { root: { minWidth: target, minHeight: target } } },
      MuiTextField: { defaultProps: { size: "small", variant: "outlined" } },
      MuiSelect: { defaultProps: { size: "small" } },
      MuiOutlinedInput: {
        styleOverrides: {
          root: { backgroundColor: inks.sheet, minHeight: target },
          notchedOutline: { borderColor: inks.soft },
        },
      },
      MuiInputLabel: {
        styleOverrides: { root: { color: inks.soft, "&.MuiInputLabel-shrink": { fontSize: "1.05rem" } } },
      },
      MuiFormHelperText: { styleOverrides: { root: { fontSize: "0.95rem", color: inks.soft } } },
      MuiPaper: { defaultProps: { elevation: 0 }, styleOverrides: { root: { backgroundImage: "none" } } },
      MuiTableCell: {
        styleOverrides: {
          root: { borderColor: inks.rule, padding: "6px clamp(3px, 1.2vw, 10px)" },
          head: { fontWeight: 700 },
        },
      },
      MuiToggleButton: {
        styleOverrides: {
          root: {
            textTransform: "none",
            minHeight: target,
            borderColor: inks.soft,
            color: inks.ink,
            padding: "4px 14px",
            fontWeight: 600,
            fontSize: "1rem",
            lineHeight: 1.2,
            "&.Mui-selected, &.Mui-selected:hover": { backgroundColor: inks.ink, color: inks.paper },
          },
        },
      },
      MuiTooltip: {
        styleOverrides: {
          tooltip: { fontSize: "0.9rem", backgroundColor: inks.ink, color: inks.paper, maxWidth: 420 },
        },
      },
    },
  });
}

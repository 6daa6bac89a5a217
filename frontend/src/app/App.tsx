import { CssBaseline, ThemeProvider } from "@mui/material";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { useMemo } from "react";
import { RouterProvider } from "react-router";
import { Problem } from "../api/unwrap";
import { makeTheme, NoticeProvider, SettingsProvider, useSettings } from "../shared";
import { router } from "./router";

const RETRY_MS = 1500;

const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      networkMode: "always",
      // A refusal is final; no server is not: it is asked again.
      retry: (count, error) => !(error instanceof Problem) && count < 3,
    },
    mutations: {
      networkMode: "always",
      // A write carries its own id, so sending it again is safe: it is sent until it arrives.
      retry: (_, error) => !(error instanceof Problem) || error.code === "busy",
      retryDelay: RETRY_MS,
    },
  },
});

function Themed() {
  const { setting } = useSettings();
  const theme = useMemo(() => makeTheme(setting), [setting]);
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline />
      <NoticeProvider>
        <RouterProvider router={router} />
      </NoticeProvider>
    </ThemeProvider>
  );
}

export function App() {
  return (
    <QueryClientProvider client={queryClient}>
      <SettingsProvider>
        <Themed />
      </SettingsProvider>
    </QueryClientProvider>
  );
}

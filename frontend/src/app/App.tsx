import { CssBaseline, ThemeProvider, useMediaQuery } from "@mui/material";
import { QueryClient } from "@tanstack/react-query";
import { PersistQueryClientProvider } from "@tanstack/react-query-persist-client";
import { useMemo } from "react";
import { RouterProvider } from "react-router";
import { Problem } from "../api/unwrap";
import { makeTheme, NoticeProvider, SettingsProvider, useSettings } from "../shared";
import { followServer, isKept, KEPT_FIRST, KEPT_MS, persister } from "./offline";
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

// The first try goes out; while the server is away further ones wait, and what is shown stays.
const KEPT = { gcTime: KEPT_MS, networkMode: "offlineFirst" } as const;
followServer();
for (const name of KEPT_FIRST) queryClient.setQueryDefaults([name], KEPT);
queryClient.setQueryDefaults(["jobs", "one"], KEPT);

function Themed() {
  const { setting } = useSettings();
  const still = useMediaQuery("(prefers-reduced-motion: reduce)", { noSsr: true });
  const theme = useMemo(() => makeTheme(setting, { still }), [setting, still]);
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline />
      <NoticeProvider>
        {/* A touch shows before the next one: what is touched meanwhile must not be the window before. */}
        <RouterProvider router={router} useTransitions={false} />
      </NoticeProvider>
    </ThemeProvider>
  );
}

export function App() {
  return (
    <PersistQueryClientProvider
      client={queryClient}
      // What was kept is shown at once and asked anew: who sits here, and with which rights, may have changed since.
      onSuccess={() => queryClient.invalidateQueries()}
      persistOptions={{
        persister,
        maxAge: KEPT_MS,
        buster: __APP_VERSION__,
        dehydrateOptions: { shouldDehydrateQuery: isKept, shouldDehydrateMutation: () => false },
      }}
    >
      <SettingsProvider>
        <Themed />
      </SettingsProvider>
    </PersistQueryClientProvider>
  );
}

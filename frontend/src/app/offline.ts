import { onlineManager, type Query } from "@tanstack/react-query";
import type { Persister } from "@tanstack/react-query-persist-client";
import { del, get, set } from "idb-keyval";
import { onServerAway, serverAway } from "../api/client";

const KEY = "elumbra.kept";
const DAYS = 7;
export const KEPT_MS = DAYS * 24 * 60 * 60 * 1000;

/** What the bay needs to go on while the server is away; all else is asked anew. */
export const KEPT_FIRST = new Set(["session", "pick-lists", "bay", "strip-off", "thermometer"]);

/** Whether an answer is kept on the device. */
export function isKept(query: Pick<Query, "queryKey" | "state">): boolean {
  const [first, second] = query.queryKey;
  if (query.state.status !== "success") return false;
  return KEPT_FIRST.has(String(first)) || (first === "jobs" && second === "one");
}

/** Kept answers, in the browser's own database; a browser that has none goes on without. */
export const persister: Persister = {
  persistClient: (client) => set(KEY, client).catch(() => undefined),
  restoreClient: () => get(KEY).catch(() => undefined),
  removeClient: () => del(KEY).catch(() => undefined),
};

/** Queries wait while the server is away, instead of failing: what is on the screen stays there. */
export function followServer(): void {
  onlineManager.setEventListener((setOnline) => onServerAway(() => setOnline(!serverAway())));
}

/** Whether this page may be kept on the device: over https, or on the machine itself. */
export const mayKeepPages = (): boolean => window.isSecureContext && "serviceWorker" in navigator;

import { queryOptions, useMutation } from "@tanstack/react-query";
import { api, newWriteId, writeHeaders, type Schemas } from "../../api/client";
import { unwrap } from "../../api/unwrap";

export const filmListQuery = () => queryOptions({ queryKey: ["rack"], queryFn: () => unwrap(api.GET("/api/rack")) });

export function useQuickCut() {
  return useMutation({
    mutationFn: (body: Schemas["QuickBody"]) => unwrap(api.POST("/api/quick-cut", { body, headers: writeHeaders(newWriteId()) })),
  });
}

const POLL_MS = 200;

export const quickSolveQuery = (id: string | undefined) =>
  queryOptions({
    queryKey: ["solves", id],
    enabled: id !== undefined,
    queryFn: () => unwrap(api.GET("/api/layouts/{id}", { params: { path: { id: id ?? "" } } })),
    refetchInterval: (query) => (query.state.data && !["queued", "running"].includes(query.state.data.status) ? false : POLL_MS),
  });

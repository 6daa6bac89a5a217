import { queryOptions, useMutation, useQueryClient } from "@tanstack/react-query";
import { api, newWriteId, writeHeaders } from "../../api/client";
import { unwrap } from "../../api/unwrap";

export const sessionQuery = () =>
  queryOptions({ queryKey: ["session"], queryFn: () => unwrap(api.GET("/api/session")), staleTime: Infinity });

/** Act as somebody; null leaves. Everything seen is fetched anew. */
export function useChoosePerson() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (personId: string | null) =>
      unwrap(api.POST("/api/session", { body: { person_id: personId }, headers: writeHeaders(newWriteId()) })),
    onSuccess: (session) => {
      client.setQueryData(sessionQuery().queryKey, session);
    },
  });
}

import { queryOptions, useMutation, useQueryClient } from "@tanstack/react-query";
import { api, newWriteId, writeHeaders, type Schemas } from "../../api/client";
import { unwrap } from "../../api/unwrap";

export const jobsQuery = () => queryOptions({ queryKey: ["jobs", "list"], queryFn: () => unwrap(api.GET("/api/jobs")) });

export const pickListsQuery = () =>
  queryOptions({ queryKey: ["pick-lists"], queryFn: () => unwrap(api.GET("/api/pick-lists")), staleTime: Infinity });

function useRefreshJobs() {
  const client = useQueryClient();
  return () => client.invalidateQueries({ queryKey: ["jobs"] });
}

export function useCreateJob() {
  const refresh = useRefreshJobs();
  return useMutation({
    mutationFn: ({ body, writeId }: { body: Schemas["JobCreate"]; writeId: string }) =>
      unwrap(api.POST("/api/jobs", { body, headers: writeHeaders(writeId) })),
    onSuccess: refresh,
  });
}

/** A job file's text goes up as it is; the server says what is wrong with it. */
export function useImportJob() {
  const refresh = useRefreshJobs();
  return useMutation({
    mutationFn: async (file: File) =>
      unwrap(
        api.POST("/api/jobs/import", {
          headers: { ...writeHeaders(newWriteId()), "Content-Type": "application/octet-stream" },
          body: file as never,
          bodySerializer: (body) => body as unknown as BodyInit,
        }),
      ),
    onSuccess: refresh,
  });
}

export function useRemoveJob() {
  const refresh = useRefreshJobs();
  return useMutation({
    mutationFn: ({ id, version, restore }: { id: string; version: number; restore?: boolean }) => {
      const options = { params: { path: { id } }, body: { version }, headers: writeHeaders(newWriteId()) };
      return unwrap(restore ? api.POST("/api/jobs/{id}/restore", options) : api.POST("/api/jobs/{id}/remove", options));
    },
    onSuccess: refresh,
  });
}

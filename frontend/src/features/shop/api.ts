import { queryOptions, useMutation, useQueryClient } from "@tanstack/react-query";
import { api, newWriteId, writeHeaders } from "../../api/client";
import { unwrap } from "../../api/unwrap";

export const startingValuesQuery = () =>
  queryOptions({ queryKey: ["starting-values"], queryFn: () => unwrap(api.GET("/api/starting-values")) });

export function useSetValue() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ name, value }: { name: string; value: number | null }) =>
      unwrap(api.PUT("/api/starting-values/{name}", { params: { path: { name } }, body: { value }, headers: writeHeaders(newWriteId()) })),
    onSuccess: (values) => {
      client.setQueryData(startingValuesQuery().queryKey, values);
      for (const key of ["jobs", "film", "proposals", "everywhere", "strip", "rules"]) void client.invalidateQueries({ queryKey: [key] });
    },
  });
}

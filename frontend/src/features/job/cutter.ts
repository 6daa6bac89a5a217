import { queryOptions } from "@tanstack/react-query";
import { api, type Schemas } from "../../api/client";
import { unwrap } from "../../api/unwrap";
import { asItIs, useWrite } from "../../shared";

/** What the cutter is at, asked every second while it is looked at. */
export const cutterQuery = () =>
  queryOptions({
    queryKey: ["cutter"],
    queryFn: () => unwrap(api.GET("/api/cutter")),
    refetchInterval: 1000,
    staleTime: 0,
  });

export const useSendToCutter = (jobId: string) =>
  useWrite({
    prepare: asItIs<Pick<Schemas["CutterSend"], "film_id" | "stock_id" | "after">>,
    send: (body, headers) =>
      unwrap(api.POST("/api/jobs/{id}/cutter", { params: { path: { id: jobId } }, body, headers })),
    onDone: (state, client) => client.setQueryData(cutterQuery().queryKey, state),
  });

export const useOrderCutter = () =>
  useWrite({
    prepare: asItIs<Schemas["CutterOrder"]["word"]>,
    send: (word, headers) => unwrap(api.POST("/api/cutter/orders", { body: { word }, headers })),
    onDone: (state, client) => client.setQueryData(cutterQuery().queryKey, state),
  });

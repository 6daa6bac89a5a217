import { keepPreviousData, queryOptions, skipToken } from "@tanstack/react-query";
import { api, newWriteId, writeHeaders, type Schemas } from "../../api/client";
import { unwrap } from "../../api/unwrap";
import { asItIs, refresh, useNotify, useWrite } from "../../shared";

export type DayCar = Schemas["DayCarOut"];

/** Open jobs that still need film, first promised first. */
export const dayCarsQuery = () =>
  queryOptions({ queryKey: ["jobs", "day"], queryFn: () => unwrap(api.GET("/api/day/cars")), staleTime: 0 });

/** The plan of these cars as they stand; the same cars asked for again get the plan that is there. */
export const dayPlanQuery = (jobIds: readonly string[]) =>
  queryOptions({
    queryKey: ["plans", "day", ...jobIds],
    queryFn:
      jobIds.length === 0
        ? skipToken
        : () =>
            unwrap(
              api.POST("/api/day/layout", {
                body: { job_ids: [...jobIds] },
                headers: writeHeaders(newWriteId()),
              }),
            ),
    staleTime: 0,
  });

const POLL_MS = 400;

export const dayTaskQuery = (jobIds: readonly string[], taskId: string | undefined) =>
  queryOptions({
    queryKey: ["tasks", "day", taskId, ...jobIds],
    queryFn:
      taskId === undefined
        ? skipToken
        : () =>
            unwrap(
              api.GET("/api/day/tasks/{id}", {
                params: { path: { id: taskId }, query: { jobs: jobIds.join(",") } },
              }),
            ),
    placeholderData: keepPreviousData,
    refetchInterval: (query) =>
      query.state.data && !["queued", "running"].includes(query.state.data.status) ? false : POLL_MS,
  });

/** The cars' plan as it was cut: each job gets its share. */
export function useDayCut() {
  const notify = useNotify();
  return useWrite({
    prepare: asItIs<Schemas["DayCutBody"]>,
    send: (body, headers) => unwrap(api.POST("/api/day/cut", { body, headers })),
    onDone: (_, client) => {
      refresh(client, ["jobs", "rack", "plans"]);
      notify("Booked off the rack, each car its share. Take it back at any of the jobs, today.");
    },
  });
}

export function useStopDay() {
  return useWrite({
    prepare: asItIs<string>,
    send: (id, headers) => unwrap(api.POST("/api/tasks/{id}/cancel", { params: { path: { id } }, headers })),
    onDone: (_, client) => refresh(client, ["tasks"]),
  });
}

import { queryOptions, skipToken, useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, type Schemas } from "../../api/client";
import { unwrap } from "../../api/unwrap";
import { asItIs, refresh, stands, useWrite } from "../../shared";

export type Sheet = Schemas["DaySheetOut"];
export type CarOn = Schemas["CarOn"];
export type TaskOn = Schemas["TaskOn"];
export type Decisions = Omit<Schemas["DayDecisions"], "version">;

/** Others' changes are looked for so often: an open sheet follows within two seconds. */
const FOLLOW_MS = 1500;
const WORKING_MS = 700;

export const dayQuery = (day: string) =>
  queryOptions({
    queryKey: ["day", "sheet", day],
    queryFn: () => unwrap(api.GET("/api/days/{day}", { params: { path: { day } } })),
    placeholderData: (before: Sheet | undefined) => before,
    refetchInterval: (query) => (query.state.data?.task_id ? WORKING_MS : false),
  });

/** A sheet that follows what others change. */
export function useDay(day: string) {
  const client = useQueryClient();
  const sheet = useQuery(dayQuery(day));
  const stamp = useQuery({
    queryKey: ["day", "stamp", day],
    queryFn: () => unwrap(api.GET("/api/days/{day}/stamp", { params: { path: { day } } })),
    refetchInterval: FOLLOW_MS,
    staleTime: 0,
  });
  const known = sheet.data?.day === day ? sheet.data.stamp : undefined;
  const now = stamp.data?.stamp;
  useEffect(() => {
    if (known !== undefined && now !== undefined && known !== now)
      void client.invalidateQueries({ queryKey: dayQuery(day).queryKey });
  }, [known, now, client, day]);
  return sheet;
}

const keep = (sheet: Sheet, client: QueryClient) => {
  stands(client, dayQuery(sheet.day).queryKey, sheet);
};

export const useBetter = (day: string) =>
  useWrite({
    scope: `day-${day}`,
    prepare: asItIs<null>,
    send: (_, headers) => unwrap(api.POST("/api/days/{day}/plan", { params: { path: { day } }, headers })),
    onDone: keep,
  });

export const useStop = (day: string) =>
  useWrite({
    prepare: asItIs<string>,
    send: (id, headers) => unwrap(api.POST("/api/tasks/{id}/cancel", { params: { path: { id } }, headers })),
    onDone: (_, client) => void client.invalidateQueries({ queryKey: dayQuery(day).queryKey }),
  });

export const useDecide = (day: string) =>
  useWrite({
    scope: `day-${day}`,
    prepare: (said: Decisions, client: QueryClient) => ({
      ...said,
      version: client.getQueryData(dayQuery(day).queryKey)?.version ?? 0,
    }),
    send: (body, headers) => unwrap(api.PUT("/api/days/{day}", { params: { path: { day } }, body, headers })),
    onDone: keep,
    onRefused: (_, client) => refresh(client, ["day"]),
  });

export const rescueQuery = (day: string, jobId: string | null) =>
  queryOptions({
    queryKey: ["day", "rescue", day, jobId],
    queryFn:
      jobId === null
        ? skipToken
        : () => unwrap(api.GET("/api/days/{day}/rescue/{id}", { params: { path: { day, id: jobId } } })),
    staleTime: 15_000,
  });

export const bookingQuery = (jobId: string) =>
  queryOptions({
    queryKey: ["day", "booking", jobId],
    queryFn: () => unwrap(api.GET("/api/jobs/{id}/booking", { params: { path: { id: jobId } } })),
  });

export const promiseQuery = (jobId: string, dropOff: string | null, ask: boolean) =>
  queryOptions({
    queryKey: ["day", "promise", jobId, dropOff],
    queryFn: ask
      ? () =>
          unwrap(
            api.GET("/api/jobs/{id}/promise", {
              params: { path: { id: jobId }, query: dropOff ? { drop_off_at: dropOff } : {} },
            }),
          )
      : skipToken,
    staleTime: 5_000,
  });

export const useBook = (jobId: string) =>
  useWrite({
    scope: `booking-${jobId}`,
    prepare: asItIs<Schemas["BookingBody"]>,
    send: (body, headers) =>
      unwrap(api.PUT("/api/jobs/{id}/booking", { params: { path: { id: jobId } }, body, headers })),
    onDone: (_, client) => refresh(client, ["day", "jobs"]),
    onRefused: (_, client) => void client.invalidateQueries({ queryKey: bookingQuery(jobId).queryKey }),
  });

export const useUnbook = (jobId: string) =>
  useWrite({
    scope: `booking-${jobId}`,
    prepare: asItIs<{ version: number }>,
    send: (body, headers) =>
      unwrap(api.POST("/api/jobs/{id}/booking/remove", { params: { path: { id: jobId } }, body, headers })),
    onDone: (_, client) => refresh(client, ["day", "jobs"]),
  });

export const openJobsQuery = () =>
  queryOptions({ queryKey: ["jobs", "board"], queryFn: () => unwrap(api.GET("/api/board")) });

import { queryOptions, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { api, newWriteId, type Job, type Schemas } from "../../api/client";
import { sessionQuery } from "../../api/queries";
import { unwrap } from "../../api/unwrap";
import { asItIs, stands, useSettings, useWrite } from "../../shared";
import { queueOf, usePending } from "./bayQueue";
import { withPending, type Bay, type BayEvent } from "./logic/bay";
import { jobQuery } from "./queries";

type Unit = "in" | "mm";
/** Other tablets' ticks are looked for so often. */
const FOLLOW_MS = 5000;

export const bayQuery = (jobId: string, inputHash: string, unit: Unit) =>
  queryOptions({
    queryKey: ["bay", jobId, inputHash, unit],
    queryFn: () =>
      unwrap(api.GET("/api/jobs/{id}/bay", { params: { path: { id: jobId }, query: { unit } } })),
    placeholderData: (before: Bay | undefined) => before,
  });

export type Happens = (event: Partial<BayEvent> & Pick<BayEvent, "kind">) => string;

/** The work of a car as this screen knows it, and the way to say what happened. */
export function useBay(job: Job) {
  const { unit } = useSettings();
  const client = useQueryClient();
  const person = useQuery(sessionQuery()).data?.person?.name ?? "";
  const query = useQuery({ ...bayQuery(job.id, job.input_hash, unit), refetchInterval: FOLLOW_MS });
  const queue = queueOf(job.id);
  const pending = usePending(queue);
  const [told, setTold] = useState<readonly string[]>([]);
  useEffect(() => {
    queue.answerTo(unit, (bay) => {
      const { queryKey } = bayQuery(job.id, job.input_hash, unit);
      stands(client, queryKey, bay);
      if (bay.told.length) setTold(bay.told);
      // Ticks stand in the band, and a spoilt piece is planned anew.
      void client.invalidateQueries({ queryKey: jobQuery(job.id).queryKey });
    });
    void queue.send();
  }, [queue, client, job.id, job.input_hash, unit]);
  const happens: Happens = useCallback(
    (event) => {
      const id = newWriteId();
      setTold([]);
      queue.add({ id, happened_at: new Date().toISOString(), ...event });
      return id;
    },
    [queue],
  );
  const bay = useMemo(
    () => (query.data ? withPending(query.data, pending, person) : undefined),
    [query.data, pending, person],
  );
  // How far the server's clock is ahead of this screen's.
  const skew = query.data ? Date.parse(query.data.now) - query.dataUpdatedAt : 0;
  return { bay, query, happens, unsent: pending.length, problem: queue.problem, told, person, skew };
}

/** Now, every second: for timers. */
export function useNow(): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 1000);
    return () => clearInterval(timer);
  }, []);
  return now;
}

export const thermometerQuery = () =>
  queryOptions({
    queryKey: ["thermometer"],
    queryFn: () => unwrap(api.GET("/api/thermometer")),
    enabled: false,
  });

export const stripOffQuery = (jobId: string, inputHash: string) =>
  queryOptions({
    queryKey: ["strip-off", jobId, inputHash],
    queryFn: () => unwrap(api.GET("/api/jobs/{id}/strip-off", { params: { path: { id: jobId } } })),
    placeholderData: (before: Schemas["StripCarOut"] | undefined) => before,
  });

export const useAcknowledge = (jobId: string) =>
  useWrite({
    scope: `strip-${jobId}`,
    prepare: asItIs<Schemas["AcknowledgeBody"]>,
    send: (body, headers) =>
      unwrap(
        api.POST("/api/jobs/{id}/strip-off/acknowledge", { params: { path: { id: jobId } }, body, headers }),
      ),
    onDone: (_, client) => {
      void client.invalidateQueries({ queryKey: ["strip-off", jobId] });
      void client.invalidateQueries({ queryKey: ["bay", jobId] });
    },
  });

export const useStripResult = (jobId: string) =>
  useWrite({
    scope: `strip-${jobId}`,
    prepare: asItIs<{ windowId: string; body: Schemas["ResultBody"] }>,
    send: ({ windowId, body }, headers) =>
      unwrap(
        api.POST("/api/windows/{id}/strip-off/result", { params: { path: { id: windowId } }, body, headers }),
      ),
    onDone: (_, client) => {
      void client.invalidateQueries({ queryKey: jobQuery(jobId).queryKey });
      void client.invalidateQueries({ queryKey: ["strip-off", jobId] });
      void client.invalidateQueries({ queryKey: ["bay", jobId] });
    },
  });

export const useSetTools = (jobId: string) =>
  useWrite({
    scope: "removal-tools",
    prepare: asItIs<Schemas["ToolsBody"]>,
    send: (body, headers) =>
      unwrap(api.PUT("/api/removal-tools/{id}", { params: { path: { id: jobId } }, body, headers })),
    onDone: (_, client) => void client.invalidateQueries({ queryKey: ["strip-off"] }),
    onRefused: (_, client) => void client.invalidateQueries({ queryKey: ["strip-off"] }),
  });

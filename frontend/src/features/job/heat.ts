import { queryOptions, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { api, type Schemas } from "../../api/client";
import { unwrap } from "../../api/unwrap";

export type ShrinkView = Schemas["ShrinkView"];
export type Shrink = Schemas["ShrinkOut"];

/** How the film is tried on the glass; nothing: as it was decided. */
export interface Tried {
  height_mm?: number;
  slope?: number;
  turned?: boolean;
  best?: boolean;
  film_id?: string;
  part?: number;
}

export const shrinkQuery = (windowId: string, inputHash: string, tried: Tried) =>
  queryOptions({
    queryKey: ["shrink", windowId, inputHash, tried],
    queryFn: () =>
      unwrap(api.GET("/api/windows/{id}/shrink", { params: { path: { id: windowId }, query: tried } })),
    staleTime: 60_000,
  });

export const heatWaysQuery = (windowId: string, inputHash: string) =>
  queryOptions({
    queryKey: ["shrink", "ways", windowId, inputHash],
    queryFn: () => unwrap(api.GET("/api/windows/{id}/shrink/ways", { params: { path: { id: windowId } } })),
  });

export const carHeatQuery = (jobId: string, inputHash: string) =>
  queryOptions({
    queryKey: ["shrink", "car", jobId, inputHash],
    queryFn: () => unwrap(api.GET("/api/jobs/{id}/shrink", { params: { path: { id: jobId } } })),
  });

/**
 * The map for what is tried, one question at a time: while the hand moves on, only the newest place is asked
 * next, so that the answer follows the hand instead of running behind it.
 */
export function useShrink(windowId: string, inputHash: string, tried: Tried) {
  const client = useQueryClient();
  const [found, setFound] = useState<{ windowId: string; data: Shrink } | null>(null);
  const [error, setError] = useState<unknown>(null);
  const wanted = useRef({ windowId, inputHash, tried });
  const busy = useRef(false);
  const name = JSON.stringify(tried);

  const ask = useCallback(async () => {
    if (busy.current) return;
    busy.current = true;
    try {
      for (let asked = null; asked !== wanted.current;) {
        asked = wanted.current;
        const data = await client.query(shrinkQuery(asked.windowId, asked.inputHash, asked.tried));
        setFound({ windowId: asked.windowId, data });
        setError(null);
      }
    } catch (problem) {
      setError(problem);
    } finally {
      busy.current = false;
    }
  }, [client]);

  useEffect(() => {
    wanted.current = { windowId, inputHash, tried: JSON.parse(name) as Tried };
    void ask();
  }, [ask, windowId, inputHash, name]);

  return { data: found?.windowId === windowId ? found.data : undefined, error, again: () => void ask() };
}

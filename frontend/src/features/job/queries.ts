import { queryOptions } from "@tanstack/react-query";
import { api } from "../../api/client";
import { unwrap } from "../../api/unwrap";

export const jobQuery = (id: string) =>
  queryOptions({
    queryKey: ["jobs", "one", id],
    queryFn: () => unwrap(api.GET("/api/jobs/{id}", { params: { path: { id } } })),
  });

export const historyQuery = (id: string) =>
  queryOptions({
    queryKey: ["jobs", "history", id],
    queryFn: () => unwrap(api.GET("/api/jobs/{id}/history", { params: { path: { id } } })),
  });

export const proposalsQuery = (jobId: string, inputHash: string) =>
  queryOptions({
    queryKey: ["proposals", jobId, inputHash],
    queryFn: () => unwrap(api.GET("/api/jobs/{id}/proposals", { params: { path: { id: jobId } } })),
  });

export const everywhereQuery = (jobId: string, inputHash: string) =>
  queryOptions({
    queryKey: ["everywhere", jobId, inputHash],
    queryFn: () => unwrap(api.GET("/api/jobs/{id}/everywhere", { params: { path: { id: jobId } } })),
  });

/** A strip depends on readings, law and rack alike, so it follows the job's state. */
export const stripQuery = (windowId: string, inputHash: string, version: number) =>
  queryOptions({
    queryKey: ["strip", windowId, inputHash, version],
    queryFn: () => unwrap(api.GET("/api/windows/{id}/strip", { params: { path: { id: windowId } } })),
    placeholderData: (before) => before,
  });

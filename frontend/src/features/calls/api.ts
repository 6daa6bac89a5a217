import { keepPreviousData, queryOptions, skipToken } from "@tanstack/react-query";
import { api, type Schemas } from "../../api/client";
import { unwrap } from "../../api/unwrap";
import { asItIs, refresh, stands, useWrite } from "../../shared";

export type History = Schemas["HistoryOut"];
export type Advice = Schemas["CallAdviceOut"];

export const callersQuery = (search: string) =>
  queryOptions({
    queryKey: ["callers", search],
    queryFn: () => unwrap(api.GET("/api/callers", { params: { query: { search } } })),
    placeholderData: keepPreviousData,
  });

export const historyQuery = (windowId: string) =>
  queryOptions({
    queryKey: ["history", windowId],
    queryFn: () => unwrap(api.GET("/api/windows/{id}/history", { params: { path: { id: windowId } } })),
  });

export const adviceQuery = (windowId: string, kind: string, answers: string) =>
  queryOptions({
    queryKey: ["call-advice", windowId, kind, answers],
    queryFn:
      kind === ""
        ? skipToken
        : () =>
            unwrap(
              api.GET("/api/windows/{id}/call-advice", {
                params: { path: { id: windowId }, query: { kind, answers } },
              }),
            ),
    placeholderData: keepPreviousData,
  });

export const lotsQuery = () =>
  queryOptions({ queryKey: ["lots"], queryFn: () => unwrap(api.GET("/api/lots")) });

export const recallQuery = (filmId: string, lot: string) =>
  queryOptions({
    queryKey: ["recall", filmId, lot],
    queryFn:
      lot === ""
        ? skipToken
        : () => unwrap(api.GET("/api/recall", { params: { query: { film_id: filmId, lot } } })),
  });

export const useKeepCall = (windowId: string) =>
  useWrite({
    scope: `call-${windowId}`,
    prepare: asItIs<Schemas["CallBody"]>,
    send: (body, headers) =>
      unwrap(api.POST("/api/windows/{id}/calls", { params: { path: { id: windowId } }, body, headers })),
    onDone: (found, client) => {
      stands(client, historyQuery(windowId).queryKey, found);
      refresh(client, ["callers"]);
    },
  });

export const useSettleCall = () =>
  useWrite({
    scope: "calls",
    prepare: asItIs<{ id: string; version: number; status: "open" | "done" }>,
    send: ({ id, version, status }, headers) =>
      unwrap(api.PATCH("/api/calls/{id}", { params: { path: { id } }, body: { version, status }, headers })),
    onDone: (found, client) => {
      stands(client, historyQuery(found.window_id).queryKey, found);
      refresh(client, ["callers"]);
    },
    onRefused: (_, client) => refresh(client, ["callers"]),
  });

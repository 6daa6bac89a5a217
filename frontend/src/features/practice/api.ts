import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, newWriteId, writeHeaders, type Schemas } from "../../api/client";
import { unwrap } from "../../api/unwrap";
import { asItIs, stands, useWrite } from "../../shared";

export type Practice = Schemas["PracticeOut"];
export type Lesson = Schemas["LessonOut"];
export type Learner = Schemas["LearnerOut"];
export type Run = Schemas["PracticeRunOut"];
export type Frame = Schemas["FrameOut"];
export type Lie = Schemas["LieOut"];
export type Slip = Schemas["SlipOut"];
export type Score = Schemas["ScoreOut"];
export type StrokeRow = (string | number)[];

export const practiceQuery = () =>
  queryOptions({ queryKey: ["practice"], queryFn: () => unwrap(api.GET("/api/practice")) });

export const runQuery = (id: string) =>
  queryOptions({
    queryKey: ["practice", "run", id],
    queryFn: () => unwrap(api.GET("/api/practice/runs/{id}", { params: { path: { id } } })),
    // A run is followed by its own strokes, never looked at anew under the hand.
    staleTime: Infinity,
    gcTime: 0,
  });

export const momentQuery = (id: string, step: number) =>
  queryOptions({
    queryKey: ["practice", "moment", id, step],
    queryFn: () =>
      unwrap(api.GET("/api/practice/runs/{id}/at", { params: { path: { id }, query: { step } } })),
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  });

/** Strokes, sent as often as it takes: the step they begin after makes sure that each is played once. */
export const sendStrokes = (id: string, after: number, until: number, strokes: StrokeRow[]) =>
  unwrap(
    api.POST("/api/practice/runs/{id}/strokes", {
      params: { path: { id } },
      body: { after, until, strokes },
      headers: writeHeaders(newWriteId()),
    }),
  );

export const useShowHow = (id: string) =>
  useWrite({
    prepare: () => undefined,
    send: (_, headers) =>
      unwrap(api.POST("/api/practice/runs/{id}/shown", { params: { path: { id } }, headers })),
  });

export const useReadIn = () =>
  useWrite({
    prepare: asItIs<string>,
    send: (text, headers) =>
      unwrap(
        api.POST("/api/practice/runs/read", {
          body: text as never,
          bodySerializer: (body: unknown) => body as string,
          headers: { ...headers, "Content-Type": "application/json" } as never,
        }),
      ),
  });

export const useSetAlone = () =>
  useWrite({
    scope: "practice-alone",
    prepare: asItIs<{ id: string; body: Schemas["AloneBody"] }>,
    send: ({ id, body }, headers) =>
      unwrap(api.PUT("/api/practice/people/{id}/alone", { params: { path: { id } }, body, headers })),
    onDone: (home, client) => stands(client, practiceQuery().queryKey, home),
    onRefused: (_, client) => void client.invalidateQueries({ queryKey: ["practice"] }),
  });

export const useSetToday = () =>
  useWrite({
    scope: "practice-today",
    prepare: asItIs<Schemas["TodayBody"]>,
    send: (body, headers) => unwrap(api.PUT("/api/practice/today", { body, headers })),
    onDone: (home, client) => stands(client, practiceQuery().queryKey, home),
    onRefused: (_, client) => void client.invalidateQueries({ queryKey: ["practice"] }),
  });

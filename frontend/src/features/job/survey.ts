import { queryOptions } from "@tanstack/react-query";
import { useRef } from "react";
import { api, newWriteId, writeHeaders, type Job, type Schemas, type WriteHeaders } from "../../api/client";
import { meterQuery } from "../../api/queries";
import { unwrap } from "../../api/unwrap";
import { asItIs, refresh, useNotify, useWrite } from "../../shared";
import { useJobWrite } from "./writing";

function versionOf(job: Job, windowId: string): number {
  return job.windows.find((window) => window.id === windowId)?.version ?? 0;
}

type OnWindow =
  | { what: "as-other-side"; other: string }
  | { what: "turn-over" }
  | { what: "move"; by: -1 | 1 }
  | { what: "from-shelf"; pane: string; scaled: boolean }
  | { what: "outline"; ring: number[][] };

/** What is done with a window as a whole at the survey, beside changing its facts. */
export function useOnWindow(jobId: string) {
  const made = useJobWrite(
    jobId,
    ({ windowId, act }: { windowId: string; act: OnWindow }, job) => ({
      windowId,
      act,
      version: versionOf(job, windowId),
    }),
    ({ windowId, act, version }, headers) => {
      const params = { path: { id: windowId } };
      switch (act.what) {
        case "as-other-side":
          return unwrap(
            api.POST("/api/windows/{id}/as-other-side", {
              params,
              body: { version, other_id: act.other },
              headers,
            }),
          );
        case "turn-over":
          return unwrap(api.POST("/api/windows/{id}/turn-over", { params, body: { version }, headers }));
        case "move":
          return unwrap(
            api.POST("/api/windows/{id}/move", { params, body: { version, by: act.by }, headers }),
          );
        case "from-shelf":
          return unwrap(
            api.POST("/api/windows/{id}/from-shelf", {
              params,
              body: { version, pane_id: act.pane, scaled: act.scaled },
              headers,
            }),
          );
        case "outline":
          return unwrap(
            api.POST("/api/windows/{id}/outline", { params, body: { version, ring: act.ring }, headers }),
          );
      }
    },
  );
  return {
    error: made.error,
    pending: made.pending,
    act: (windowId: string, act: OnWindow, onSuccess?: (job: Job) => void) =>
      made.write({ windowId, act }, onSuccess ? { onSuccess } : {}),
  };
}

export function useAddOpening(jobId: string) {
  return useAddGlass(jobId, (body: Schemas["OpeningIn"], headers) =>
    unwrap(api.POST("/api/jobs/{id}/openings", { params: { path: { id: jobId } }, body, headers })),
  );
}

export function useAddWindow(jobId: string) {
  return useAddGlass(jobId, (body: Schemas["WindowCreate"], headers) =>
    unwrap(api.POST("/api/jobs/{id}/windows", { params: { path: { id: jobId } }, body, headers })),
  );
}

/** Adds glass; the first pane that the answer has and the job did not have when it was sent is opened. */
function useAddGlass<Body>(jobId: string, send: (body: Body, headers: WriteHeaders) => Promise<Job>) {
  // Read when it is sent, not when it was touched: a window may be taken out in between.
  const before = useRef<ReadonlySet<string>>(new Set());
  const add = useJobWrite(
    jobId,
    (body: Body, job) => {
      before.current = new Set(job.windows.map((window) => window.id));
      return body;
    },
    send,
  );
  return (body: Body, open: (id: string) => void) =>
    add.write(body, {
      onSuccess: (job) => {
        const first = job.windows.find((window) => !before.current.has(window.id));
        if (first) open(first.id);
      },
    });
}

export function useAddPhoto(jobId: string) {
  const add = useJobWrite(jobId, asItIs<Schemas["PhotoIn"]>, (body, headers) =>
    unwrap(api.POST("/api/jobs/{id}/photos", { params: { path: { id: jobId } }, body, headers })),
  );
  return {
    pending: add.pending,
    add: (body: Schemas["PhotoIn"], kept?: () => void) => add.write(body, kept ? { onSuccess: kept } : {}),
  };
}

export const nearQuery = (windowId: string, version: number) =>
  queryOptions({
    queryKey: ["shelf", "near", windowId, version],
    queryFn: () => unwrap(api.GET("/api/windows/{id}/near", { params: { path: { id: windowId } } })),
  });

export { meterQuery };

/** The meter as it sits on the glass; nothing is kept by reading it. */
export const readMeter = () =>
  unwrap(api.POST("/api/meter/readings", { body: { times: 3 }, headers: writeHeaders(newWriteId()) }));

/** The outline in a drawing, to be looked at before it is taken. */
export const readDrawing = (body: Schemas["DrawingIn"]) =>
  unwrap(api.POST("/api/shelf/drawing", { body, headers: writeHeaders(newWriteId()) }));

/** How a piece fitted that was cut by a record of the shelf. */
export function useFitted(jobId: string) {
  const notify = useNotify();
  return useWrite({
    prepare: asItIs<{ pane: string; body: Schemas["FittedIn"] }>,
    send: ({ pane, body }, headers) =>
      unwrap(api.POST("/api/shelf/panes/{id}/fitted", { params: { path: { id: pane } }, body, headers })),
    onDone: (car, client) => {
      refresh(client, ["shelf"]);
      void client.invalidateQueries({ queryKey: ["jobs", "one", jobId] });
      notify(`Told to the glass shelf: the next ${car.name} goes by it.`);
    },
    onRefused: (error) => notify(error.message, { bad: true }),
  });
}

/** Every window takes the glass of a car on the shelf. */
export function useFillFromShelf(jobId: string) {
  return useJobWrite(
    jobId,
    (carId: string, job) => ({
      car_id: carId,
      versions: Object.fromEntries(job.windows.map((window) => [window.id, window.version])),
    }),
    (body, headers) =>
      unwrap(api.POST("/api/jobs/{id}/from-shelf", { params: { path: { id: jobId } }, body, headers })),
    undefined,
    "Every window has the glass of that car.",
  );
}

/** This car's glass, kept for every car like it. */
export function useKeepOnShelf(jobId: string) {
  const notify = useNotify();
  return useWrite({
    prepare: asItIs<Schemas["CarFromJob"]>,
    send: (body, headers) => unwrap(api.POST("/api/shelf/cars", { body, headers })),
    onDone: (car, client) => {
      refresh(client, ["shelf"]);
      void client.invalidateQueries({ queryKey: ["jobs", "one", jobId] });
      notify(`${car.name} is on the glass shelf. The next one like it is measured already.`);
    },
  });
}

import { queryOptions, type QueryClient } from "@tanstack/react-query";
import { api, type Job, type Schemas, type WriteHeaders } from "../../api/client";
import { planQuery, taskQuery } from "../../api/queries";
import { Problem, unwrap } from "../../api/unwrap";
import { asItIs, useNotify, useWrite } from "../../shared";

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

export { planQuery, taskQuery };

type WindowChange = Omit<Schemas["WindowPatch"], "version">;
type JobChange = Omit<Schemas["JobPatch"], "version">;

function keepAnswer(job: Job, client: QueryClient): void {
  client.setQueryData(jobQuery(job.id).queryKey, job);
  void client.invalidateQueries({ queryKey: ["jobs", "board"], refetchType: "none" });
  void client.invalidateQueries({ queryKey: ["jobs", "list"], refetchType: "none" });
  void client.invalidateQueries({ queryKey: ["jobs", "history", job.id] });
}

/**
 * Writes of one job go out one after another, each on the version that the last one answered
 * with, so that a late answer never covers a newer one.
 */
function useJobWrite<Change, Body>(
  jobId: string,
  prepare: (change: Change, job: Job) => Body,
  send: (body: Body, headers: WriteHeaders) => Promise<Job>,
) {
  const notify = useNotify();
  return useWrite({
    scope: `job-${jobId}`,
    prepare: (change: Change, client) => {
      const job = client.getQueryData(jobQuery(jobId).queryKey);
      if (!job) throw new Problem("The job is not on this screen any more. Open it again.", "not_found");
      return prepare(change, job);
    },
    send,
    onDone: keepAnswer,
    onRefused: (error, client) => {
      const stale = error instanceof Problem && error.code === "stale_version";
      if (stale) void client.invalidateQueries({ queryKey: jobQuery(jobId).queryKey });
      if (stale || (error instanceof Problem && Object.keys(error.fields).length === 0))
        notify(error.message, { bad: true });
    },
  });
}

function versionOf(job: Job, windowId: string): number {
  return job.windows.find((window) => window.id === windowId)?.version ?? 0;
}

export function useWindowChange(jobId: string) {
  const patch = useJobWrite(
    jobId,
    ({ windowId, change }: { windowId: string; change: WindowChange }, job) => ({
      windowId,
      body: { ...change, version: versionOf(job, windowId) },
    }),
    ({ windowId, body }, headers) =>
      unwrap(api.PATCH("/api/windows/{id}", { params: { path: { id: windowId } }, body, headers })),
  );
  return {
    error: patch.error,
    refusedWindow: patch.change?.windowId,
    pending: patch.pending,
    change: (windowId: string, change: WindowChange) => patch.write({ windowId, change }),
  };
}

export function useJobChange(jobId: string) {
  const patch = useJobWrite(
    jobId,
    (change: JobChange, job) => ({ ...change, version: job.version }),
    (body, headers) =>
      unwrap(api.PATCH("/api/jobs/{id}", { params: { path: { id: jobId } }, body, headers })),
  );
  return { error: patch.error, change: (change: JobChange) => patch.write(change) };
}

export type FilmsByWindow = Record<string, string | null>;

/** Films put on windows at once: one on several, or a whole proposal. Ten seconds to take it back. */
export function useFilms(jobId: string) {
  const notify = useNotify();
  const films = useJobWrite(
    jobId,
    (chosen: FilmsByWindow, job) => ({
      films: Object.fromEntries(
        Object.entries(chosen).map(([id, film]) => [id, { film_id: film, version: versionOf(job, id) }]),
      ),
    }),
    (body, headers) =>
      unwrap(api.POST("/api/jobs/{id}/films", { params: { path: { id: jobId } }, body, headers })),
  );
  return {
    pending: films.pending,
    put: (job: Job, chosen: FilmsByWindow, words: string) => {
      const before: FilmsByWindow = Object.fromEntries(
        job.windows.filter((window) => window.id in chosen).map((window) => [window.id, window.film_id]),
      );
      films.write(chosen);
      notify(words, { undo: () => films.write(before) });
    },
  };
}

/** One film, or none, for several windows. */
export function filmFor(filmId: string | null, windowIds: readonly string[]): FilmsByWindow {
  return Object.fromEntries(windowIds.map((id) => [id, filmId]));
}

export function useAddWindow(jobId: string) {
  const add = useJobWrite(jobId, asItIs<Schemas["WindowCreate"]>, (body, headers) =>
    unwrap(api.POST("/api/jobs/{id}/windows", { params: { path: { id: jobId } }, body, headers })),
  );
  return { add: (body: Schemas["WindowCreate"]) => add.write(body) };
}

export function useRemoveWindow(jobId: string) {
  const notify = useNotify();
  const change = useJobWrite(
    jobId,
    asItIs<{ windowId: string; version: number; restore?: boolean }>,
    ({ windowId, version, restore }, headers) => {
      const options = { params: { path: { id: windowId } }, body: { version }, headers };
      return unwrap(
        restore
          ? api.POST("/api/windows/{id}/restore", options)
          : api.POST("/api/windows/{id}/remove", options),
      );
    },
  );
  return {
    remove: (windowId: string, version: number, label: string) => {
      const back = () => change.write({ windowId, version: version + 1, restore: true });
      const told = () => notify(`${label} is out of this job.`, { undo: back });
      change.write({ windowId, version }, { onSuccess: told });
    },
  };
}

/** Judge the job by the rule book as it stands today. */
export function useJudgeAgain(jobId: string) {
  const judge = useJobWrite(
    jobId,
    (_: null, job) => ({ version: job.version }),
    (body, headers) =>
      unwrap(api.POST("/api/jobs/{id}/judge-again", { params: { path: { id: jobId } }, body, headers })),
  );
  return { pending: judge.pending, judgeAgain: () => judge.write(null) };
}

export function useReason(jobId: string) {
  const notify = useNotify();
  const give = useJobWrite(
    jobId,
    asItIs<{ windowId: string; body: Schemas["ReasonIn"] }>,
    ({ windowId, body }, headers) =>
      unwrap(api.POST("/api/windows/{id}/reason", { params: { path: { id: windowId } }, body, headers })),
  );
  const back = useJobWrite(jobId, asItIs<{ id: string; version: number }>, ({ id, version }, headers) =>
    unwrap(api.POST("/api/reasons/{id}/withdraw", { params: { path: { id } }, body: { version }, headers })),
  );
  return {
    error: give.error,
    pending: give.pending,
    give: (windowId: string, body: Schemas["ReasonIn"], done: () => void) => {
      const told = () => {
        notify("The reason is on record. The verdict stays.");
        done();
      };
      give.write({ windowId, body }, { onSuccess: told });
    },
    withdraw: (id: string, version: number) => {
      const told = () => notify("The reason is withdrawn; the window is held.");
      back.write({ id, version }, { onSuccess: told });
    },
  };
}

export function useInstalled(jobId: string) {
  const notify = useNotify();
  const installed = useJobWrite(
    jobId,
    asItIs<{ windowId: string; body: Schemas["InstalledIn"] }>,
    ({ windowId, body }, headers) =>
      unwrap(api.POST("/api/windows/{id}/installed", { params: { path: { id: windowId } }, body, headers })),
  );
  return {
    error: installed.error,
    pending: installed.pending,
    record: (windowId: string, body: Schemas["InstalledIn"], done: () => void) => {
      const told = () => {
        notify(`${body.read_percent} % is on record for lot ${body.lot}.`);
        done();
      };
      installed.write({ windowId, body }, { onSuccess: told });
    },
  };
}

export function useStopTask() {
  return useWrite({
    prepare: asItIs<string>,
    send: (id, headers) => unwrap(api.POST("/api/tasks/{id}/cancel", { params: { path: { id } }, headers })),
    onDone: (task, client) => {
      client.setQueryData(taskQuery(task.id).queryKey, task);
    },
  });
}

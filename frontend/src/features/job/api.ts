import { api, type Job, type Schemas } from "../../api/client";
import { planQuery, taskQuery } from "../../api/queries";
import { unwrap } from "../../api/unwrap";
import { asItIs, stands, useNotify, useWrite } from "../../shared";
import { useJobWrite } from "./writing";

export * from "./cutter";
export * from "./knife";
export * from "./queries";
export { planQuery, taskQuery };

type WindowChange = Omit<Schemas["WindowPatch"], "version">;
type JobChange = Omit<Schemas["JobPatch"], "version">;

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
    {
      mine: ({ change }) => change,
      kept: ({ windowId }, fields) => ({ windowId, change: fields }),
    },
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
    { mine: (change) => change, kept: (_, fields) => fields as JobChange },
  );
  return { error: patch.error, change: (change: JobChange) => patch.write(change) };
}

/** Something done with the job as a whole; its state follows. */
export const useDeed = (jobId: string) =>
  useJobWrite(
    jobId,
    (done: Omit<Schemas["DeedBody"], "version">, job) => ({ ...done, version: job.version }),
    (body, headers) =>
      unwrap(api.POST("/api/jobs/{id}/deeds", { params: { path: { id: jobId } }, body, headers })),
  );

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
      stands(client, taskQuery(task.id).queryKey, task);
    },
  });
}

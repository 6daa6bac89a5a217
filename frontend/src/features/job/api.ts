import { queryOptions, useMutation, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { api, newWriteId, writeHeaders, type Job, type Schemas } from "../../api/client";
import { Problem, unwrap } from "../../api/unwrap";
import { useNotify } from "../../shared";

export const jobQuery = (id: string) =>
  queryOptions({ queryKey: ["jobs", "one", id], queryFn: () => unwrap(api.GET("/api/jobs/{id}", { params: { path: { id } } })) });

export const historyQuery = (id: string) =>
  queryOptions({ queryKey: ["jobs", "history", id], queryFn: () => unwrap(api.GET("/api/jobs/{id}/history", { params: { path: { id } } })) });

export const stateListQuery = () =>
  queryOptions({ queryKey: ["pick-lists"], queryFn: () => unwrap(api.GET("/api/pick-lists")), staleTime: Infinity });

type WindowChange = Omit<Schemas["WindowPatch"], "version">;
type JobChange = Omit<Schemas["JobPatch"], "version">;

function keepAnswer(client: QueryClient, job: Job): void {
  client.setQueryData(jobQuery(job.id).queryKey, job);
  void client.invalidateQueries({ queryKey: ["jobs", "board"], refetchType: "none" });
  void client.invalidateQueries({ queryKey: ["jobs", "list"], refetchType: "none" });
  void client.invalidateQueries({ queryKey: ["jobs", "history", job.id] });
}

/**
 * Writes of one job go out one after another, each on the version that the last one answered
 * with, so that a late answer never covers a newer one.
 */
function useJobWrite<Change>(jobId: string, send: (change: Change, writeId: string, job: Job) => Promise<Job>) {
  const client = useQueryClient();
  const notify = useNotify();
  const mutation = useMutation({
    scope: { id: `job-${jobId}` },
    mutationFn: ({ change, writeId }: { change: Change; writeId: string }) => {
      const job = client.getQueryData(jobQuery(jobId).queryKey);
      if (!job) throw new Problem("The job is not on this screen any more. Open it again.", "not_found");
      return send(change, writeId, job);
    },
    onSuccess: (job) => { keepAnswer(client, job); },
    onError: (error) => {
      if (error instanceof Problem && error.code === "stale_version") {
        notify(error.message, { bad: true });
        void client.invalidateQueries({ queryKey: jobQuery(jobId).queryKey });
      } else if (error instanceof Problem && Object.keys(error.fields).length === 0) notify(error.message, { bad: true });
    },
  });
  return mutation;
}

export function useWindowChange(jobId: string) {
  const mutation = useJobWrite(jobId, ({ windowId, change }: { windowId: string; change: WindowChange }, writeId, job) => {
    const version = job.windows.find((window) => window.id === windowId)?.version ?? 0;
    return unwrap(api.PATCH("/api/windows/{id}", { params: { path: { id: windowId } }, body: { ...change, version }, headers: writeHeaders(writeId) }));
  });
  return {
    error: mutation.error,
    variables: mutation.variables,
    pending: mutation.isPending,
    change: (windowId: string, change: WindowChange) => { mutation.mutate({ change: { windowId, change }, writeId: newWriteId() }); },
  };
}

export function useJobChange(jobId: string) {
  const mutation = useJobWrite(jobId, (change: JobChange, writeId, job) =>
    unwrap(api.PATCH("/api/jobs/{id}", { params: { path: { id: jobId } }, body: { ...change, version: job.version }, headers: writeHeaders(writeId) })),
  );
  return { error: mutation.error, change: (change: JobChange) => { mutation.mutate({ change, writeId: newWriteId() }); } };
}

export function useFilmForMany(jobId: string) {
  const notify = useNotify();
  const mutation = useJobWrite(jobId, (body: Schemas["FilmForMany"], writeId) =>
    unwrap(api.POST("/api/jobs/{id}/film", { params: { path: { id: jobId } }, body, headers: writeHeaders(writeId) })),
  );
  const put = (body: Schemas["FilmForMany"]) => { mutation.mutate({ change: body, writeId: newWriteId() }); };
  return {
    pending: mutation.isPending,
    /** Puts a film on windows; ten seconds to take it back. */
    put: (job: Job, filmId: string | null, windowIds: string[], words: string) => {
      const before = new Map<string | null, string[]>();
      for (const window of job.windows)
        if (windowIds.includes(window.id)) before.set(window.film_id, [...(before.get(window.film_id) ?? []), window.id]);
      put({ film_id: filmId, window_ids: windowIds });
      notify(words, { undo: () => { for (const [film, ids] of before) put({ film_id: film, window_ids: ids }); } });
    },
  };
}

export function useAddWindow(jobId: string) {
  const mutation = useJobWrite(jobId, (body: Schemas["WindowCreate"], writeId) =>
    unwrap(api.POST("/api/jobs/{id}/windows", { params: { path: { id: jobId } }, body, headers: writeHeaders(writeId) })),
  );
  return { add: (body: Schemas["WindowCreate"]) => { mutation.mutate({ change: body, writeId: newWriteId() }); } };
}

export function useRemoveWindow(jobId: string) {
  const notify = useNotify();
  const mutation = useJobWrite(jobId, ({ windowId, version, restore }: { windowId: string; version?: number; restore?: boolean }, writeId, job) => {
    const known = version ?? job.windows.find((window) => window.id === windowId)?.version ?? 0;
    const options = { params: { path: { id: windowId } }, body: { version: known }, headers: writeHeaders(writeId) };
    return unwrap(restore ? api.POST("/api/windows/{id}/restore", options) : api.POST("/api/windows/{id}/remove", options));
  });
  return {
    remove: (windowId: string, version: number, label: string) => {
      mutation.mutate(
        { change: { windowId, version }, writeId: newWriteId() },
        { onSuccess: () => { notify(`${label} is out of this job.`, { undo: () => { mutation.mutate({ change: { windowId, version: version + 1, restore: true }, writeId: newWriteId() }); } }); } },
      );
    },
  };
}

/** Judge the job by the rule book as it stands today. */
export function useJudgeAgain(jobId: string) {
  const mutation = useJobWrite(jobId, (_: null, writeId, job) =>
    unwrap(api.POST("/api/jobs/{id}/judge-again", { params: { path: { id: jobId } }, body: { version: job.version }, headers: writeHeaders(writeId) })),
  );
  return { pending: mutation.isPending, judgeAgain: () => { mutation.mutate({ change: null, writeId: newWriteId() }); } };
}

export function useReason(jobId: string) {
  const notify = useNotify();
  const give = useJobWrite(jobId, ({ windowId, body }: { windowId: string; body: Schemas["ReasonIn"] }, writeId) =>
    unwrap(api.POST("/api/windows/{id}/reason", { params: { path: { id: windowId } }, body, headers: writeHeaders(writeId) })),
  );
  const back = useJobWrite(jobId, ({ id, version }: { id: string; version: number }, writeId) =>
    unwrap(api.POST("/api/reasons/{id}/withdraw", { params: { path: { id } }, body: { version }, headers: writeHeaders(writeId) })),
  );
  return {
    error: give.error,
    pending: give.isPending,
    give: (windowId: string, body: Schemas["ReasonIn"], done: () => void) => {
      give.mutate({ change: { windowId, body }, writeId: newWriteId() }, { onSuccess: () => { notify("The reason is on record. The verdict stays."); done(); } });
    },
    withdraw: (id: string, version: number) => {
      back.mutate({ change: { id, version }, writeId: newWriteId() }, { onSuccess: () => { notify("The reason is withdrawn; the window is held."); } });
    },
  };
}

/** A whole proposal put on at once; ten seconds to take it back. */
export function useFilmsByWindow(jobId: string) {
  const notify = useNotify();
  const mutation = useJobWrite(jobId, (films: Record<string, string | null>, writeId) =>
    unwrap(api.POST("/api/jobs/{id}/films", { params: { path: { id: jobId } }, body: { films }, headers: writeHeaders(writeId) })),
  );
  const put = (films: Record<string, string | null>) => { mutation.mutate({ change: films, writeId: newWriteId() }); };
  return {
    pending: mutation.isPending,
    put: (job: Job, films: Record<string, string | null>, words: string) => {
      const before = Object.fromEntries(job.windows.filter((window) => window.id in films).map((window) => [window.id, window.film_id]));
      put(films);
      notify(words, { undo: () => { put(before); } });
    },
  };
}

export function useInstalled(jobId: string) {
  const notify = useNotify();
  const mutation = useJobWrite(jobId, ({ windowId, body }: { windowId: string; body: Schemas["InstalledIn"] }, writeId) =>
    unwrap(api.POST("/api/windows/{id}/installed", { params: { path: { id: windowId } }, body, headers: writeHeaders(writeId) })),
  );
  return {
    error: mutation.error,
    pending: mutation.isPending,
    record: (windowId: string, body: Schemas["InstalledIn"], done: () => void) => {
      mutation.mutate({ change: { windowId, body }, writeId: newWriteId() }, { onSuccess: () => { notify(`${String(body.read_percent)} % is on record for lot ${body.lot}.`); done(); } });
    },
  };
}

export const proposalsQuery = (jobId: string, inputHash: string) =>
  queryOptions({ queryKey: ["proposals", jobId, inputHash], queryFn: () => unwrap(api.GET("/api/jobs/{id}/proposals", { params: { path: { id: jobId } } })) });

export const everywhereQuery = (jobId: string, inputHash: string) =>
  queryOptions({ queryKey: ["everywhere", jobId, inputHash], queryFn: () => unwrap(api.GET("/api/jobs/{id}/everywhere", { params: { path: { id: jobId } } })) });

/** A strip depends on readings, law and rack alike, so it follows the job's state. */
export const stripQuery = (windowId: string, inputHash: string, version: number) =>
  queryOptions({ queryKey: ["strip", windowId, inputHash, version], queryFn: () => unwrap(api.GET("/api/windows/{id}/strip", { params: { path: { id: windowId } } })), placeholderData: (before) => before });

export const stockQuery = () => queryOptions({ queryKey: ["rack"], queryFn: () => unwrap(api.GET("/api/rack")) });

/** The layout for what the job says now; asked for once for each state of the job. */
export const layoutQuery = (jobId: string, inputHash: string) =>
  queryOptions({
    queryKey: ["layouts", jobId, inputHash],
    queryFn: () => unwrap(api.POST("/api/jobs/{id}/layout", { params: { path: { id: jobId } }, headers: writeHeaders(newWriteId()) })),
    staleTime: Infinity,
  });

const POLL_MS = 250;

/** How far that layout is; asked again until it is final. */
export const solveQuery = (solveId: string | undefined) =>
  queryOptions({
    queryKey: ["solves", solveId],
    enabled: solveId !== undefined,
    queryFn: () => unwrap(api.GET("/api/layouts/{id}", { params: { path: { id: solveId ?? "" } } })),
    refetchInterval: (query) => (query.state.data && !["queued", "running"].includes(query.state.data.status) ? false : POLL_MS),
  });

export function useStopSolve() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => unwrap(api.POST("/api/layouts/{id}/cancel", { params: { path: { id } }, headers: writeHeaders(newWriteId()) })),
    onSuccess: (solve) => { client.setQueryData(solveQuery(solve.id).queryKey, solve); },
  });
}

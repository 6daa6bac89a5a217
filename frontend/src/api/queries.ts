import { keepPreviousData, queryOptions, skipToken } from "@tanstack/react-query";
import { api, newWriteId, writeHeaders } from "./client";
import { unwrap } from "./unwrap";

/** Keys and fetchers of what more than one feature looks at. A key's first word names what it depends on. */

export const sessionQuery = () =>
  queryOptions({
    queryKey: ["session"],
    queryFn: () => unwrap(api.GET("/api/session")),
    staleTime: Infinity,
  });

export const pickListsQuery = () =>
  queryOptions({
    queryKey: ["pick-lists"],
    queryFn: () => unwrap(api.GET("/api/pick-lists")),
    staleTime: Infinity,
  });

export const rackQuery = () =>
  queryOptions({ queryKey: ["rack"], queryFn: () => unwrap(api.GET("/api/rack")) });

export const ruleBookQuery = () =>
  queryOptions({ queryKey: ["rules", "book"], queryFn: () => unwrap(api.GET("/api/rules")) });

/** A page of the jobs that a search finds; the last page stays on the screen while the next one comes. */
export const jobsQuery = (search = "", page = 1, archived = false) =>
  queryOptions({
    queryKey: ["jobs", "list", search, page, archived],
    queryFn: () => unwrap(api.GET("/api/jobs", { params: { query: { search, page, archived } } })),
    placeholderData: keepPreviousData,
  });

/** One search over jobs, customers, films and the rack. */
export const findQuery = (search: string) =>
  queryOptions({
    queryKey: ["jobs", "find", search],
    queryFn: () => unwrap(api.GET("/api/find", { params: { query: { search: search.slice(0, 120) } } })),
    placeholderData: keepPreviousData,
  });

/** Cars of the glass shelf that have all of these words; the last page stays while the next one comes. */
export const shelfQuery = (words = "", page = 1) =>
  queryOptions({
    queryKey: ["shelf", "list", words, page],
    queryFn: () => unwrap(api.GET("/api/shelf", { params: { query: { words, page } } })),
    placeholderData: keepPreviousData,
  });

/** Whether the light meter answers. */
export const meterQuery = () =>
  queryOptions({ queryKey: ["meter"], queryFn: () => unwrap(api.GET("/api/meter")), staleTime: 10_000 });

/** What the cutter is at. */
export const cutterQuery = () =>
  queryOptions({
    queryKey: ["cutter"],
    queryFn: () => unwrap(api.GET("/api/cutter")),
    staleTime: 0,
  });

const getShelfCar = (id: string) => unwrap(api.GET("/api/shelf/cars/{id}", { params: { path: { id } } }));

/** A car of the glass shelf with its panes. */
export type ShelfCar = Awaited<ReturnType<typeof getShelfCar>>;

export const shelfCarQuery = (id: string) =>
  queryOptions({ queryKey: ["shelf", "car", id], queryFn: () => getShelfCar(id) });

const POLL_MS = 250;
const WAITING = ["queued", "running"];

/** How far a plan is; asked again until it is final. */
export const taskQuery = (taskId: string | undefined) =>
  queryOptions({
    queryKey: ["tasks", taskId],
    queryFn:
      taskId === undefined
        ? skipToken
        : () => unwrap(api.GET("/api/tasks/{id}", { params: { path: { id: taskId } } })),
    refetchInterval: (query) =>
      query.state.data && !WAITING.includes(query.state.data.status) ? false : POLL_MS,
  });

/** The plan for what a job says now; asked for once for each state of the job. */
export const planQuery = (jobId: string, inputHash: string) =>
  queryOptions({
    queryKey: ["plans", jobId, inputHash],
    queryFn: () =>
      unwrap(
        api.POST("/api/jobs/{id}/layout", {
          params: { path: { id: jobId } },
          headers: writeHeaders(newWriteId()),
        }),
      ),
    staleTime: Infinity,
  });

/** Keys of all that is worked out from films, rack, own figures and law. */
export const WORKED_OUT = ["jobs", "film", "proposals", "everywhere", "strip", "rules", "shrink"] as const;

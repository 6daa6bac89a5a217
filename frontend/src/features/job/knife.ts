import { queryOptions, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { api, type Schemas } from "../../api/client";
import { rackQuery, sessionQuery, WORKED_OUT } from "../../api/queries";
import { Problem, unwrap } from "../../api/unwrap";
import { asItIs, refresh, stands, useNotify, useWrite } from "../../shared";
import { jobQuery } from "./queries";
import { useJobWrite } from "./writing";

/** Others' changes of a job that is open here, asked every second: seen within two. */
export const changesQuery = (id: string) =>
  queryOptions({
    queryKey: ["job-changes", id],
    queryFn: ({ client, queryKey }) => {
      const since = client.getQueryData<Schemas["ChangesOut"]>(queryKey)?.last ?? 0;
      return unwrap(api.GET("/api/jobs/{id}/changes", { params: { path: { id }, query: { since } } }));
    },
    refetchInterval: 1000,
    staleTime: 0,
    gcTime: 0,
  });

/** An open job follows what others do to it, and says who did what. */
export function useFollowJob(jobId: string): void {
  const client = useQueryClient();
  const notify = useNotify();
  const me = useQuery(sessionQuery()).data?.person?.id;
  const seen = useRef({ last: 0, stamp: "" });
  const found = useQuery(changesQuery(jobId)).data;
  useEffect(() => {
    if (!found) return;
    const before = seen.current;
    seen.current = { last: Math.max(before.last, found.last), stamp: found.stamp };
    if (before.stamp === "" || before.stamp === found.stamp) return;
    void client.invalidateQueries({ queryKey: jobQuery(jobId).queryKey });
    void client.invalidateQueries({ queryKey: ["jobs", "history", jobId] });
    for (const key of ["bay", "strip-off", "look", "handover", "quote", "owner"])
      void client.invalidateQueries({ queryKey: [key, jobId] });
    const others = found.entries.filter((entry) => entry.person_id !== me && entry.id > before.last);
    const [newest] = others;
    if (newest) {
      const fields = newest.fields.join(", ").replaceAll("_", " ");
      const more = others.length > 1 ? `, and ${others.length - 1} more` : "";
      notify(`${newest.person} ${newest.action} ${newest.what}${fields ? `: ${fields}` : ""}${more}.`);
    }
  }, [client, found, jobId, me, notify]);
}

/** The plan as it was cut, a cut taken back, or a window cut once more. */
export function useKnife(jobId: string) {
  const cut = useJobWrite(
    jobId,
    asItIs<Schemas["CutBody"]>,
    (body, headers) =>
      unwrap(api.POST("/api/jobs/{id}/cut", { params: { path: { id: jobId } }, body, headers })),
    undefined,
    "Booked off the rack.",
  );
  const back = useJobWrite(
    jobId,
    asItIs<{ id: string; version: number }>,
    ({ id, version }, headers) =>
      unwrap(
        api.POST("/api/cuttings/{id}/take-back", { params: { path: { id } }, body: { version }, headers }),
      ),
    undefined,
    "The cut is taken back; the film is on the rack.",
  );
  const again = useJobWrite(
    jobId,
    asItIs<{ id: string; body: Schemas["AgainBody"] }>,
    ({ id, body }, headers) =>
      unwrap(api.POST("/api/cuttings/{id}/cut-again", { params: { path: { id } }, body, headers })),
  );
  return {
    pending: cut.pending || back.pending || again.pending,
    error: cut.error,
    cut: (body: Schemas["CutBody"], then: Parameters<typeof cut.write>[1]) => cut.write(body, then),
    takeBack: (id: string, version: number) => back.write({ id, version }),
    again: (id: string, version: number, window_id: string) =>
      again.write({ id, body: { version, window_id } }),
  };
}

/** Film held for the job's plan, and let go again. */
export function useHold(jobId: string) {
  const held = useJobWrite(
    jobId,
    asItIs<Schemas["HoldBody"]>,
    (body, headers) =>
      unwrap(api.POST("/api/jobs/{id}/hold", { params: { path: { id: jobId } }, body, headers })),
    undefined,
    "Held: nobody else plans on it.",
  );
  const released = useJobWrite(
    jobId,
    asItIs<null>,
    (_body, headers) =>
      unwrap(api.POST("/api/jobs/{id}/release-film", { params: { path: { id: jobId } }, headers })),
    undefined,
    "Released.",
  );
  return {
    error: held.error,
    pending: held.pending || released.pending,
    hold: (input_hash: string, until: string | null, then: Parameters<typeof held.write>[1]) =>
      held.write({ input_hash, until }, then),
    release: () => released.write(null),
  };
}

/** A fact of a film, answered where a job asks for it. */
export function useFilmAnswer() {
  const notify = useNotify();
  return useWrite({
    prepare: asItIs<{ filmId: string; facts: Partial<Schemas["FilmFields"]> }>,
    send: async ({ filmId, facts }, headers) => {
      const { films } = await unwrap(api.GET("/api/rack"));
      const film = films.find((one) => one.id === filmId);
      if (!film) throw new Problem("This film is not on file any more. Choose another.", "not_found");
      const known = Object.fromEntries(
        Object.entries(film).filter(([name]) => name !== "id" && name !== "stocked_mm"),
      ) as Omit<typeof film, "id" | "stocked_mm">;
      return unwrap(
        api.PUT("/api/films/{id}", {
          params: { path: { id: film.id } },
          body: { ...known, ...facts },
          headers,
        }),
      );
    },
    onDone: (rack, client) => {
      stands(client, rackQuery().queryKey, rack);
      refresh(client, WORKED_OUT);
    },
    onRefused: (error) => notify(error.message, { bad: true }),
  });
}

import { queryOptions, type QueryClient } from "@tanstack/react-query";
import { api, type Schemas, type WriteHeaders } from "../../api/client";
import { unwrap } from "../../api/unwrap";
import { asItIs, refresh, useWrite } from "../../shared";
import { jobQuery } from "./queries";

export type CarLook = Schemas["LookOut"];
export type LookWindow = CarLook["windows"][number];
export type Flaw = LookWindow["flaws"][number];
type Known = Pick<Flaw, "id" | "version">;

/** The car as it was looked over; anew with every change of the job. */
export const lookQuery = (jobId: string, inputHash = "") =>
  queryOptions({
    queryKey: ["look", jobId, inputHash],
    queryFn: () => unwrap(api.GET("/api/jobs/{id}/look", { params: { path: { id: jobId } } })),
    placeholderData: (before: CarLook | undefined) => before,
  });

/** Writes of Look answer with the whole car; ticks, waste and papers hang on it. */
function useLookWrite<Change>(
  jobId: string,
  send: (change: Change, headers: WriteHeaders) => Promise<CarLook>,
) {
  return useWrite({
    scope: `look-${jobId}`,
    prepare: asItIs<Change>,
    send,
    onDone: (car, client) => {
      client.setQueriesData({ queryKey: ["look", jobId] }, car);
      afterLook(client, jobId);
    },
    onRefused: (_, client) => void client.invalidateQueries({ queryKey: ["look", jobId] }),
  });
}

function afterLook(client: QueryClient, jobId: string): void {
  void client.invalidateQueries({ queryKey: jobQuery(jobId).queryKey });
  refresh(client, ["bay", "handover", "rack", "ledger"]);
}

export const useKeepLook = (jobId: string) =>
  useLookWrite(jobId, ({ windowId, body }: { windowId: string; body: Schemas["LookBody"] }, headers) =>
    unwrap(api.POST("/api/windows/{id}/looks", { params: { path: { id: windowId } }, body, headers })),
  );

export const useLookBack = (jobId: string) =>
  useLookWrite(jobId, ({ id, version }: Known, headers) =>
    unwrap(api.POST("/api/looks/{id}/remove", { params: { path: { id } }, body: { version }, headers })),
  );

export const useAddFlaw = (jobId: string) =>
  useLookWrite(jobId, ({ windowId, body }: { windowId: string; body: Schemas["FlawBody"] }, headers) =>
    unwrap(api.POST("/api/windows/{id}/flaws", { params: { path: { id: windowId } }, body, headers })),
  );

export const useFlawChange = (jobId: string) =>
  useLookWrite(
    jobId,
    ({ id, version, change }: Known & { change: Omit<Schemas["FlawPatch"], "version"> }, headers) =>
      unwrap(
        api.PATCH("/api/flaws/{id}", { params: { path: { id } }, body: { ...change, version }, headers }),
      ),
  );

export const useFlawAnswer = (jobId: string) =>
  useLookWrite(jobId, ({ id, version, fact, told }: Known & { fact: string; told: "yes" | "no" }, headers) =>
    unwrap(
      api.POST("/api/flaws/{id}/answer", {
        params: { path: { id } },
        body: { version, fact, told },
        headers,
      }),
    ),
  );

export type Decided = Omit<Schemas["DecideBody"], "version">;

export const useDecide = (jobId: string) =>
  useLookWrite(jobId, ({ id, version, ...body }: Known & Decided, headers) =>
    unwrap(
      api.POST("/api/flaws/{id}/decide", { params: { path: { id } }, body: { ...body, version }, headers }),
    ),
  );

export const useLookAgain = (jobId: string) =>
  useLookWrite(jobId, ({ id, version, gone }: Known & { gone: boolean }, headers) =>
    unwrap(
      api.POST("/api/flaws/{id}/look-again", { params: { path: { id } }, body: { version, gone }, headers }),
    ),
  );

export const useRemoveFlaw = (jobId: string) =>
  useLookWrite(jobId, ({ id, version, restore }: Known & { restore?: boolean }, headers) => {
    const options = { params: { path: { id } }, body: { version }, headers };
    return unwrap(
      restore ? api.POST("/api/flaws/{id}/restore", options) : api.POST("/api/flaws/{id}/remove", options),
    );
  });

/** A reading that was taken by mistake goes; the lot's figure follows. */
export const useRemoveReading = (jobId: string) =>
  useWrite({
    scope: `look-${jobId}`,
    prepare: asItIs<Known>,
    send: ({ id, version }, headers) =>
      unwrap(
        api.POST("/api/installed-readings/{id}/remove", {
          params: { path: { id } },
          body: { version },
          headers,
        }),
      ),
    onDone: (_, client) => {
      void client.invalidateQueries({ queryKey: ["look", jobId] });
      afterLook(client, jobId);
    },
  });

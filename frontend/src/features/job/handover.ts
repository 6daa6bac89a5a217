import { queryOptions, type QueryClient } from "@tanstack/react-query";
import { api, type Job, type Schemas } from "../../api/client";
import { unwrap } from "../../api/unwrap";
import { asItIs, refresh, stands, useWrite } from "../../shared";
import { jobQuery } from "./queries";

export type Handover = Schemas["HandoverOut"];
export type Quote = Schemas["QuoteOut"];

export const handoverQuery = (jobId: string, inputHash = "") =>
  queryOptions({
    queryKey: ["handover", jobId, inputHash],
    queryFn: () => unwrap(api.GET("/api/jobs/{id}/handover", { params: { path: { id: jobId } } })),
    placeholderData: (before: Handover | undefined) => before,
  });

export const ownerQuery = (jobId: string) =>
  queryOptions({
    queryKey: ["owner", jobId],
    queryFn: () => unwrap(api.GET("/api/jobs/{id}/owner", { params: { path: { id: jobId } } })),
  });

/** A new job for windows of a delivered car; its own screens follow. */
export const useRedo = (jobId: string) =>
  useWrite({
    scope: `redo-${jobId}`,
    prepare: asItIs<Schemas["RedoBody"]>,
    send: (body, headers) =>
      unwrap(api.POST("/api/jobs/{id}/redo", { params: { path: { id: jobId } }, body, headers })),
    onDone: (made: Job, client) => {
      stands(client, jobQuery(made.id).queryKey, made);
      void client.invalidateQueries({ queryKey: jobQuery(jobId).queryKey });
      refresh(client, ["jobs"]);
    },
  });

export const quoteQuery = (jobId: string, inputHash = "") =>
  queryOptions({
    queryKey: ["quote", jobId, inputHash],
    queryFn: () => unwrap(api.GET("/api/jobs/{id}/quote", { params: { path: { id: jobId } } })),
    placeholderData: (before: Quote | undefined) => before,
  });

/** What hangs on who owns the car, what was accepted, and whether it went. */
function after(client: QueryClient, jobId: string): void {
  void client.invalidateQueries({ queryKey: jobQuery(jobId).queryKey });
  refresh(client, ["handover", "owner", "quote", "jobs", "board", "look", "customers"]);
}

export const useCheck = (jobId: string) =>
  useWrite({
    scope: `handover-${jobId}`,
    prepare: asItIs<Schemas["CheckBody"]>,
    send: (body, headers) =>
      unwrap(api.POST("/api/jobs/{id}/handover/check", { params: { path: { id: jobId } }, body, headers })),
    onDone: (found, client) => {
      client.setQueriesData({ queryKey: ["handover", jobId] }, found);
      refresh(client, ["bay"]);
    },
  });

export const useHandOver = (jobId: string) =>
  useWrite({
    scope: `handover-${jobId}`,
    prepare: asItIs<Schemas["SignBody"]>,
    send: (body, headers) =>
      unwrap(api.POST("/api/jobs/{id}/handover/sign", { params: { path: { id: jobId } }, body, headers })),
    onDone: (_, client) => after(client, jobId),
    onRefused: (_, client) => void client.invalidateQueries({ queryKey: ["handover", jobId] }),
  });

export const useLetGo = (jobId: string) =>
  useWrite({
    scope: `handover-${jobId}`,
    prepare: asItIs<Schemas["LetGoBody"]>,
    send: (body, headers) =>
      unwrap(api.POST("/api/jobs/{id}/handover/let-go", { params: { path: { id: jobId } }, body, headers })),
    onDone: (_, client) => {
      after(client, jobId);
      refresh(client, ["rack"]);
    },
    onRefused: (_, client) => after(client, jobId),
  });

export const useNotGone = (jobId: string) =>
  useWrite({
    scope: `handover-${jobId}`,
    prepare: asItIs<Schemas["TakeBackBody"]>,
    send: (body, headers) =>
      unwrap(
        api.POST("/api/jobs/{id}/handover/take-back", { params: { path: { id: jobId } }, body, headers }),
      ),
    onDone: (_, client) => after(client, jobId),
  });

export const useKeepOwner = (jobId: string) =>
  useWrite({
    scope: `handover-${jobId}`,
    prepare: asItIs<Schemas["OwnerBody"]>,
    send: (body, headers) =>
      unwrap(api.PUT("/api/jobs/{id}/owner", { params: { path: { id: jobId } }, body, headers })),
    onDone: (found, client) => {
      stands(client, ownerQuery(jobId).queryKey, found);
      after(client, jobId);
    },
    onRefused: (_, client) => void client.invalidateQueries({ queryKey: jobQuery(jobId).queryKey }),
  });

export const useOffer = ({ id, input_hash }: Job) =>
  useWrite({
    scope: `quote-${id}`,
    prepare: asItIs<Schemas["OfferBody"]>,
    send: (body, headers) =>
      unwrap(api.POST("/api/jobs/{id}/quotes", { params: { path: { id } }, body, headers })),
    onDone: (quote, client) => {
      stands(client, quoteQuery(id, input_hash).queryKey, quote);
      after(client, id);
    },
  });

export const useAcceptQuote = (jobId: string) =>
  useWrite({
    scope: `quote-${jobId}`,
    prepare: asItIs<{ quoteId: string; body: Schemas["AcceptBody"] }>,
    send: ({ quoteId, body }, headers) =>
      unwrap(api.POST("/api/quotes/{id}/accept", { params: { path: { id: quoteId } }, body, headers })),
    onDone: (_, client) => after(client, jobId),
    onRefused: (_, client) => refresh(client, ["quote"]),
  });

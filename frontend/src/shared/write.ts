import {
  useMutation,
  useQueryClient,
  type InferDataFromTag,
  type QueryClient,
  type QueryKey,
} from "@tanstack/react-query";
import { useRef } from "react";
import { newWriteId, writeHeaders, type WriteHeaders } from "../api/client";

interface Sent<Change> {
  change: Change;
  writeId: string;
}

interface Way<Change, Body, Answer> {
  /** Writes of one scope go out one after another. */
  scope?: string;
  /** What is sent, made once from the change however often it is sent. */
  prepare: (change: Change, client: QueryClient) => Body;
  send: (body: Body, headers: WriteHeaders) => Promise<Answer>;
  onDone?: (answer: Answer, client: QueryClient) => void;
  onRefused?: (error: Error, client: QueryClient, change: Change) => void;
}

interface Then<Answer> {
  onSuccess?: (answer: Answer) => void;
  onError?: (error: Error) => void;
}

/**
 * The one way to write. The write's id is made with the change and goes with it on every try, and so
 * does its body: an answer that was lost on the way never makes the server do it twice.
 */
export function useWrite<Change, Body, Answer>(way: Way<Change, Body, Answer>) {
  const client = useQueryClient();
  const bodies = useRef(new Map<string, Body>());
  const mutation = useMutation<Answer, Error, Sent<Change>>({
    ...(way.scope === undefined ? {} : { scope: { id: way.scope } }),
    mutationFn: ({ change, writeId }) => {
      const body = bodies.current.get(writeId) ?? way.prepare(change, client);
      bodies.current.set(writeId, body);
      return way.send(body, writeHeaders(writeId));
    },
    onSuccess: (answer) => way.onDone?.(answer, client),
    onError: (error, { change }) => way.onRefused?.(error, client, change),
    onSettled: (_answer, _error, { writeId }) => {
      bodies.current.delete(writeId);
    },
  });
  const { mutate } = mutation;
  return {
    data: mutation.data,
    error: mutation.error,
    change: mutation.variables?.change,
    pending: mutation.isPending,
    write: (change: Change, then: Then<Answer> = {}) => mutate({ change, writeId: newWriteId() }, then),
  };
}

/**
 * What a write answered stands. A look that set out before it is called off: it does not know what was written, and
 * its answer, coming later, would cover this one.
 */
export function stands<Key extends QueryKey>(
  client: QueryClient,
  queryKey: Key,
  data: InferDataFromTag<unknown, Key>,
): void {
  void client.cancelQueries({ queryKey, exact: true });
  client.setQueryData(queryKey, data);
}

/** Sends a change as it is. */
export const asItIs = <Change>(change: Change): Change => change;

/** Everything of these keys is looked at anew. */
export function refresh(client: QueryClient, keys: readonly string[]): void {
  for (const key of keys) void client.invalidateQueries({ queryKey: [key] });
}

import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Job = Schemas["JobOut"];
export type JobWindow = Schemas["WindowOut"];
export type JobBrief = Schemas["JobBrief"];
export type Verdict = Schemas["VerdictOut"];
export type Question = Schemas["QuestionOut"];
export type Clause = Schemas["ClauseOut"];
export type Task = Schemas["TaskOut"];
export type FilmPlan = Schemas["FilmPlan"];
export type Rack = Schemas["RackOut"];

/** Typed calls; the paths and bodies come from the server's OpenAPI document. */
export const api = createClient<paths>({ baseUrl: "", fetch: (request) => watchedFetch(request) });

type Listener = () => void;
const listeners = new Set<Listener>();
let away = false;

/** Whether the last call found no server. */
export function serverAway(): boolean {
  return away;
}

/** Called when the server goes away or comes back. */
export function onServerAway(listener: Listener): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

function setAway(value: boolean): void {
  if (value !== away) {
    away = value;
    for (const listener of listeners) listener();
  }
}

/** fetch, noticing when there is no server to answer. */
async function watchedFetch(request: Request): Promise<Response> {
  try {
    const response = await fetch(request);
    setAway(false);
    return response;
  } catch (error) {
    setAway(true);
    throw error;
  }
}

// A type, not an interface: it must fit a record of headers.

export type WriteHeaders = { "X-Write-Id": string };

/** The header that makes a write happen once however often it is sent. */
export function writeHeaders(writeId: string): WriteHeaders {
  return { "X-Write-Id": writeId };
}

/** An id for a write, made before it is first sent. */
export function newWriteId(): string {
  return crypto.randomUUID();
}

/** A file goes up as it is; the server says what is wrong with it. */
export const AS_FILE = { "Content-Type": "application/octet-stream" } as const;

export function fileBody(file: File) {
  return { body: file as never, bodySerializer: (body: unknown) => body as BodyInit };
}

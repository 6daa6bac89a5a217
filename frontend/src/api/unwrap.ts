import type { Schemas } from "./client";

export type ErrorBody = Schemas["ErrorBody"];

/** What the server refused, in its one shape. */
export class Problem extends Error {
  readonly code: string;
  readonly fields: Record<string, string>;
  readonly body: ErrorBody | undefined;

  constructor(message: string, code: string, body?: ErrorBody) {
    super(message);
    this.name = "Problem";
    this.code = code;
    this.fields = body?.fields ?? {};
    this.body = body;
  }
}

interface Result<Data> {
  data?: Data;
  error?: unknown;
  response: Response;
}

/** Data, or a thrown Problem; judged by the response, for an error body may be empty. */
export async function unwrap<Data>(call: Promise<Result<Data>>): Promise<Data> {
  const result = await call;
  if (result.response.ok && result.data !== undefined) return result.data;
  const body = result.error as ErrorBody | undefined;
  if (body && typeof body === "object" && "message" in body) throw new Problem(body.message, body.code, body);
  throw new Problem(`The server answered ${String(result.response.status)}. Try again.`, "server_error");
}

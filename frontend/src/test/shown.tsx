import { ThemeProvider } from "@mui/material";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import type { ReactElement } from "react";
import { createMemoryRouter, RouterProvider } from "react-router";
import { vi } from "vitest";
import type { Schemas } from "../api/client";
import { Problem } from "../api/unwrap";
import { makeTheme, NoticeProvider, SettingsProvider } from "../shared";

export interface Sent {
  to: string; // method and path, such as "PUT /api/people/doors"
  body: unknown;
  id: string; // the write's own
}

/** What the server answers, by method and path; a function sees what was sent and may answer anew each time. */
export type Answers = Record<string, object | ((sent: Sent) => object)>;

class Refusal {
  readonly status: number;
  readonly body: Schemas["ErrorBody"];

  constructor(status: number, body: Schemas["ErrorBody"]) {
    this.status = status;
    this.body = body;
  }
}

/** A refusal, as the server words it. */
export const refused = (
  status: number,
  message: string,
  fields: Record<string, string> = {},
  code = "refused",
) => new Refusal(status, { code, message, fields });

export const LEAD = { id: "ines", name: "Ines Varga", role: "lead", prices: true };

/** Who is signed in; screens ask for it by themselves. */
export const session = (person: object = LEAD, more: object = {}) => ({
  home: false,
  person,
  people: [],
  ...more,
});

/**
 * A screen as the application shows it, at an address, with a server that answers as said. What is written is kept;
 * what nobody answered fails the test by name.
 */
export function shown(element: ReactElement, answers: Answers, { at = "/", path = "*" } = {}) {
  const written: Sent[] = [];
  const unanswered: string[] = [];
  vi.stubGlobal("fetch", async (request: Request) => {
    const { pathname, search } = new URL(request.url);
    const to = `${request.method} ${pathname}`;
    const text = request.method === "GET" ? "" : await request.text();
    const sent = {
      to,
      body: text ? (JSON.parse(text) as unknown) : null,
      id: request.headers.get("X-Write-Id") ?? "",
    };
    if (request.method !== "GET") written.push(sent);
    const found = answers[`${to}${search}`] ?? answers[to];
    if (found === undefined) {
      unanswered.push(`${to}${search}`);
      return Response.json(
        { code: "not_found", message: `Nobody answers ${to}.`, fields: {} },
        { status: 404 },
      );
    }
    const answer = (
      typeof found === "function" ? await (found as (sent: Sent) => unknown)(sent) : found
    ) as object;
    return answer instanceof Refusal
      ? Response.json(answer.body, { status: answer.status })
      : Response.json(answer);
  });
  const client = new QueryClient({
    defaultOptions: {
      queries: { retry: (count, error) => !(error instanceof Problem) && count < 1, networkMode: "always" },
      mutations: { networkMode: "always" },
    },
  });
  const routes = [
    { path, element },
    { path: "*", element: <p>another page</p> },
  ];
  const router = createMemoryRouter(path === "*" ? routes.slice(0, 1) : routes, { initialEntries: [at] });
  const user = userEvent.setup({ delay: null });
  render(
    <QueryClientProvider client={client}>
      <SettingsProvider>
        <ThemeProvider theme={makeTheme("bench", { still: true })}>
          <NoticeProvider>
            <RouterProvider router={router} useTransitions={false} />
          </NoticeProvider>
        </ThemeProvider>
      </SettingsProvider>
    </QueryClientProvider>,
  );
  return { user, written, unanswered, router, client };
}

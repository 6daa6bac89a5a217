import type { QueryClient } from "@tanstack/react-query";
import { api, type Schemas } from "../../api/client";
import { sessionQuery } from "../../api/queries";
import { unwrap } from "../../api/unwrap";
import { asItIs, stands, useWrite } from "../../shared";

export type SignIn = Schemas["SignInBody"];
export type Session = Schemas["SessionOut"];

const keep = (session: Session, client: QueryClient) => {
  stands(client, sessionQuery().queryKey, session);
};

/** Sign in by password or PIN; nobody named: whoever sits there leaves. */
export const useSignIn = () =>
  useWrite({
    scope: "session",
    prepare: asItIs<SignIn>,
    send: (body, headers) => unwrap(api.POST("/api/session", { body, headers })),
    onDone: (session, client) => {
      stands(client, sessionQuery().queryKey, session);
      // What the one before looked at is not the next one's.
      client.removeQueries({ predicate: (query) => query.queryKey[0] !== "session" });
    },
  });

export const useFirstOwner = () =>
  useWrite({
    scope: "session",
    prepare: asItIs<Schemas["FirstOwnerBody"]>,
    send: (body, headers) => unwrap(api.POST("/api/session/owner", { body, headers })),
    onDone: keep,
  });

export const useFirstPassword = (personId: string) =>
  useWrite({
    scope: "session",
    prepare: asItIs<Schemas["OwnPasswordBody"]>,
    send: (body, headers) =>
      unwrap(api.POST("/api/session/password/{id}", { params: { path: { id: personId } }, body, headers })),
    onDone: keep,
  });

export const useOwnPassword = () =>
  useWrite({
    scope: "session",
    prepare: asItIs<Schemas["OwnPasswordBody"]>,
    send: (body, headers) => unwrap(api.PUT("/api/session/password", { body, headers })),
    onDone: keep,
  });

export const useOwnPin = () =>
  useWrite({
    scope: "session",
    prepare: asItIs<Schemas["OwnPinBody"]>,
    send: (body, headers) => unwrap(api.PUT("/api/session/pin", { body, headers })),
    onDone: keep,
  });

export const useOwnSettings = () =>
  useWrite({
    scope: "session-settings",
    prepare: asItIs<Schemas["OwnSettingsBody"]>,
    send: (body, headers) => unwrap(api.PUT("/api/session/settings", { body, headers })),
    onDone: keep,
    onRefused: (_, client) => void client.invalidateQueries({ queryKey: sessionQuery().queryKey }),
  });

export const useEnrol = () =>
  useWrite({
    scope: "session",
    prepare: asItIs<Schemas["EnrolBody"]>,
    send: (body, headers) => unwrap(api.POST("/api/session/device", { body, headers })),
    onDone: keep,
  });

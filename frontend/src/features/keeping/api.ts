import { queryOptions } from "@tanstack/react-query";
import { api, type Schemas } from "../../api/client";
import { unwrap } from "../../api/unwrap";
import { asItIs, refresh, stands, useWrite } from "../../shared";

export type Keeping = Schemas["KeepingOut"];

export const keepingQuery = () =>
  queryOptions({ queryKey: ["keeping"], queryFn: () => unwrap(api.GET("/api/keeping")) });

export const useCopyNow = () =>
  useWrite({
    scope: "keeping",
    prepare: asItIs<null>,
    send: (_, headers) => unwrap(api.POST("/api/keeping/copy", { headers })),
    onDone: (page, client) => {
      stands(client, keepingQuery().queryKey, page);
    },
    onRefused: (_, client) => refresh(client, ["keeping"]),
  });

export const useSetSecond = () =>
  useWrite({
    scope: "keeping",
    prepare: asItIs<Schemas["KeepingBody"]>,
    send: (body, headers) => unwrap(api.PUT("/api/keeping", { body, headers })),
    onDone: (page, client) => {
      stands(client, keepingQuery().queryKey, page);
    },
    onRefused: (_, client) => refresh(client, ["keeping"]),
  });

export const useRehearse = () =>
  useWrite({
    scope: "keeping",
    prepare: asItIs<Schemas["CopyBody"]>,
    send: (body, headers) => unwrap(api.POST("/api/keeping/rehearse", { body, headers })),
  });

export const useRestore = () =>
  useWrite({
    scope: "keeping",
    prepare: asItIs<Schemas["RestoreBody"]>,
    send: (body, headers) => unwrap(api.POST("/api/keeping/restore", { body, headers })),
    onDone: (_, client) => void client.invalidateQueries(),
  });

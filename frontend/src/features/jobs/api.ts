import { api, AS_FILE, fileBody, type Schemas } from "../../api/client";
import { unwrap } from "../../api/unwrap";
import { asItIs, refresh, useWrite } from "../../shared";

export const useCreateJob = () =>
  useWrite({
    prepare: asItIs<Schemas["JobCreate"]>,
    send: (body, headers) => unwrap(api.POST("/api/jobs", { body, headers })),
    onDone: (_, client) => refresh(client, ["jobs"]),
  });

export const useImportJob = () =>
  useWrite({
    prepare: asItIs<File>,
    send: (file, headers) =>
      unwrap(api.POST("/api/jobs/import", { headers: { ...headers, ...AS_FILE }, ...fileBody(file) })),
    onDone: (_, client) => refresh(client, ["jobs", "rack"]),
  });

export const useArchiveJob = () =>
  useWrite({
    prepare: asItIs<{ id: string; version: number; restore?: boolean }>,
    send: ({ id, version, restore }, headers) => {
      const options = { params: { path: { id } }, body: { version }, headers };
      return unwrap(
        restore ? api.POST("/api/jobs/{id}/restore", options) : api.POST("/api/jobs/{id}/remove", options),
      );
    },
    onDone: (_, client) => refresh(client, ["jobs"]),
  });

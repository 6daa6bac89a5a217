import { api, type Schemas } from "../../api/client";
import { unwrap } from "../../api/unwrap";
import { asItIs, useWrite } from "../../shared";

export const useQuickCut = () =>
  useWrite({
    prepare: asItIs<Schemas["QuickBody"]>,
    send: (body, headers) => unwrap(api.POST("/api/quick-cut", { body, headers })),
  });

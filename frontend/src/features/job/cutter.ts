import { api, type Schemas } from "../../api/client";
import { cutterQuery } from "../../api/queries";
import { unwrap } from "../../api/unwrap";
import { asItIs, stands, useWrite } from "../../shared";

export { cutterQuery };

export const useSendToCutter = (jobId: string) =>
  useWrite({
    prepare: asItIs<Pick<Schemas["CutterSend"], "film_id" | "stock_id" | "after">>,
    send: (body, headers) =>
      unwrap(api.POST("/api/jobs/{id}/cutter", { params: { path: { id: jobId } }, body, headers })),
    onDone: (state, client) => stands(client, cutterQuery().queryKey, state),
  });

export const useOrderCutter = () =>
  useWrite({
    prepare: asItIs<Schemas["CutterOrder"]["word"]>,
    send: (word, headers) => unwrap(api.POST("/api/cutter/orders", { body: { word }, headers })),
    onDone: (state, client) => stands(client, cutterQuery().queryKey, state),
  });

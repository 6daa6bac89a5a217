import { api } from "../../api/client";
import { sessionQuery } from "../../api/queries";
import { unwrap } from "../../api/unwrap";
import { asItIs, useWrite } from "../../shared";

/** Act as somebody; null leaves. */
export const useChoosePerson = () =>
  useWrite({
    prepare: asItIs<string | null>,
    send: (personId, headers) => unwrap(api.POST("/api/session", { body: { person_id: personId }, headers })),
    onDone: (session, client) => {
      client.setQueryData(sessionQuery().queryKey, session);
    },
  });

import { queryOptions, skipToken, type QueryClient } from "@tanstack/react-query";
import { api, AS_FILE, fileBody, newWriteId, writeHeaders, type Schemas } from "../../api/client";
import { unwrap } from "../../api/unwrap";
import { asItIs, refresh, stands, useWrite } from "../../shared";

export type Rule = Schemas["RuleOut"];
export type RuleField = Schemas["FieldOut"];

export const ruleQuery = (code: string) =>
  queryOptions({
    queryKey: ["rules", "one", code],
    queryFn: () => unwrap(api.GET("/api/rules/{id}", { params: { path: { id: code } } })),
  });

export type LookUp = Schemas["LookUpOut"];
export type LookUpAsk = Schemas["LookUpIn"];

export const lookUpQuery = (ask: LookUpAsk | null) =>
  queryOptions({
    queryKey: ["rules", "look-up", ask],
    queryFn: ask
      ? () => unwrap(api.POST("/api/rules/look-up", { body: ask, headers: writeHeaders(newWriteId()) }))
      : skipToken,
    placeholderData: (before) => before,
  });

function keepRule(rule: Rule, client: QueryClient) {
  stands(client, ruleQuery(rule.code).queryKey, rule);
  void client.invalidateQueries({ queryKey: ["rules", "book"] });
  void client.invalidateQueries({ queryKey: ["rules", "look-up"] });
  // What the law says decides jobs and all that is shown of them.
  refresh(client, ["jobs", "everywhere"]);
}

export const useSay = (code: string) =>
  useWrite({
    prepare: asItIs<Schemas["WordIn"]>,
    send: (body, headers) =>
      unwrap(api.POST("/api/rules/{id}/words", { params: { path: { id: code } }, body, headers })),
    onDone: keepRule,
  });

/** Several fields read in one sitting, under one citation and date. */
export const useConfirm = (code: string) =>
  useWrite({
    prepare: asItIs<Schemas["ConfirmIn"]>,
    send: (body, headers) =>
      unwrap(api.POST("/api/rules/{id}/confirm", { params: { path: { id: code } }, body, headers })),
    onDone: keepRule,
  });

export const useWithdraw = () =>
  useWrite({
    prepare: asItIs<string>,
    send: (id, headers) =>
      unwrap(api.POST("/api/rule-words/{id}/withdraw", { params: { path: { id } }, headers })),
    onDone: keepRule,
  });

export const useTakeInFile = () =>
  useWrite({
    prepare: asItIs<File>,
    send: (file, headers) =>
      unwrap(api.POST("/api/rules/file", { headers: { ...headers, ...AS_FILE }, ...fileBody(file) })),
    onDone: (_, client) => refresh(client, ["rules", "jobs", "pick-lists"]),
  });

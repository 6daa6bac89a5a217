import { queryOptions, skipToken, useMutation, useQueryClient } from "@tanstack/react-query";
import { api, newWriteId, writeHeaders, type Schemas } from "../../api/client";
import { unwrap } from "../../api/unwrap";

export type Rule = Schemas["RuleOut"];
export type RuleField = Schemas["FieldOut"];

export const ruleBookQuery = () => queryOptions({ queryKey: ["rules", "book"], queryFn: () => unwrap(api.GET("/api/rules")) });

export const ruleQuery = (code: string) =>
  queryOptions({ queryKey: ["rules", "one", code], queryFn: () => unwrap(api.GET("/api/rules/{id}", { params: { path: { id: code } } })) });

export type LookUp = Schemas["LookUpOut"];
export interface LookUpAsk {
  state: string;
  vehicle_class: "passenger" | "multipurpose";
  position: "front_side" | "rear_side" | "rear_window" | "windshield";
  film_id: string;
  glass_percent?: number;
  glass_source?: "metered" | "assumed";
}

export const lookUpQuery = (ask: LookUpAsk | null) =>
  queryOptions({ queryKey: ["rules", "look-up", ask], queryFn: ask ? () => unwrap(api.GET("/api/rules/look-up", { params: { query: ask } })) : skipToken });

export const filmsQuery = () => queryOptions({ queryKey: ["rack"], queryFn: () => unwrap(api.GET("/api/rack")) });

function useKeepRule() {
  const client = useQueryClient();
  return (rule: Rule) => {
    client.setQueryData(ruleQuery(rule.code).queryKey, rule);
    void client.invalidateQueries({ queryKey: ["rules", "book"] });
    void client.invalidateQueries({ queryKey: ["rules", "look-up"] });
    // What the law says decides jobs and all that is shown of them.
    void client.invalidateQueries({ queryKey: ["jobs"] });
    void client.invalidateQueries({ queryKey: ["everywhere"] });
  };
}

export function useSay(code: string) {
  const keep = useKeepRule();
  return useMutation({
    mutationFn: (body: Schemas["WordIn"]) => unwrap(api.POST("/api/rules/{id}/words", { params: { path: { id: code } }, body, headers: writeHeaders(newWriteId()) })),
    onSuccess: keep,
  });
}

export function useWithdraw() {
  const keep = useKeepRule();
  return useMutation({
    mutationFn: (id: string) => unwrap(api.POST("/api/rule-words/{id}/withdraw", { params: { path: { id } }, headers: writeHeaders(newWriteId()) })),
    onSuccess: keep,
  });
}

export function useTakeInFile() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (file: File) => {
      const content = await file.text();
      return unwrap(api.POST("/api/rules/file", { headers: { ...writeHeaders(newWriteId()), "Content-Type": "application/json" }, body: content as never, bodySerializer: (text: unknown) => text as string }));
    },
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: ["rules"] });
      void client.invalidateQueries({ queryKey: ["jobs"] });
    },
  });
}

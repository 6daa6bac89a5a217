import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, type Schemas } from "../../api/client";
import { unwrap } from "../../api/unwrap";

export type Ledger = Schemas["LedgerOut"];
export type Table = Schemas["LedgerTable"];

export const ledgerQuery = (since: string | null, until: string | null) =>
  queryOptions({
    queryKey: ["ledger", since, until],
    queryFn: () =>
      unwrap(
        api.GET("/api/ledger", {
          params: { query: { ...(since ? { since } : {}), ...(until ? { until } : {}) } },
        }),
      ),
    placeholderData: keepPreviousData,
  });

import { queryOptions } from "@tanstack/react-query";
import { api } from "../../api/client";
import { unwrap } from "../../api/unwrap";

export const boardQuery = () =>
  queryOptions({
    queryKey: ["jobs", "board"],
    queryFn: () => unwrap(api.GET("/api/board")),
    refetchInterval: 20_000,
  });

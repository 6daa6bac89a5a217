import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, type Schemas, type WriteHeaders } from "../../api/client";
import { unwrap } from "../../api/unwrap";
import { asItIs, refresh, useWrite } from "../../shared";

export type Customer = Schemas["CustomerOut"];

export const customersQuery = (search: string, page = 1) =>
  queryOptions({
    queryKey: ["customers", "list", search, page],
    queryFn: () => unwrap(api.GET("/api/customers", { params: { query: { search, page } } })),
    placeholderData: keepPreviousData,
  });

export const customerQuery = (id: string) =>
  queryOptions({
    queryKey: ["customers", id],
    queryFn: () => unwrap(api.GET("/api/customers/{id}", { params: { path: { id } } })),
  });

function useCustomerWrite<Change>(send: (change: Change, headers: WriteHeaders) => Promise<Customer>) {
  return useWrite({
    scope: "customers",
    prepare: asItIs<Change>,
    send,
    onDone: (_, client) => refresh(client, ["customers", "jobs", "board", "callers", "owner"]),
    onRefused: (_, client) => refresh(client, ["customers"]),
  });
}

export const useNewCustomer = () =>
  useCustomerWrite((body: Schemas["CustomerBody"], headers) =>
    unwrap(api.POST("/api/customers", { body, headers })),
  );

export const useChangeCustomer = (id: string) =>
  useCustomerWrite((body: Schemas["CustomerPatch"], headers) =>
    unwrap(api.PATCH("/api/customers/{id}", { params: { path: { id } }, body, headers })),
  );

export const useMergeCustomer = (id: string) =>
  useCustomerWrite((body: Schemas["MergeBody"], headers) =>
    unwrap(api.POST("/api/customers/{id}/merge", { params: { path: { id } }, body, headers })),
  );

export const useEraseCustomer = (id: string) =>
  useCustomerWrite((body: Schemas["EraseBody"], headers) =>
    unwrap(api.POST("/api/customers/{id}/erase", { params: { path: { id } }, body, headers })),
  );

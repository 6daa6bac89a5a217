import { queryOptions, useMutation, useQueryClient } from "@tanstack/react-query";
import { api, newWriteId, writeHeaders, type Rack, type Schemas } from "../../api/client";
import { unwrap } from "../../api/unwrap";

export const rackQuery = () => queryOptions({ queryKey: ["rack"], queryFn: () => unwrap(api.GET("/api/rack")) });

function useRackWrite<Change>(send: (change: Change, headers: { "X-Write-Id": string }) => Promise<Rack>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (change: Change) => send(change, writeHeaders(newWriteId())),
    onSuccess: (rack) => {
      client.setQueryData(rackQuery().queryKey, rack);
      // What is on the rack decides layouts and shades.
      for (const key of ["jobs", "film", "proposals", "everywhere", "strip"]) void client.invalidateQueries({ queryKey: [key] });
    },
  });
}

type StockFields = Schemas["StockFields"];
type FilmFields = Schemas["FilmFields"];

export const useSaveStock = () =>
  useRackWrite(({ id, version, body }: { id?: string; version?: number; body: StockFields }, headers) =>
    unwrap(
      id !== undefined && version !== undefined
        ? api.PUT("/api/stock/{id}", { params: { path: { id } }, body: { ...body, version }, headers })
        : api.POST("/api/stock", { body, headers }),
    ),
  );

export const useRemoveStock = () =>
  useRackWrite(({ id, version, restore }: { id: string; version: number; restore?: boolean }, headers) => {
    const options = { params: { path: { id } }, body: { version }, headers };
    return unwrap(restore ? api.POST("/api/stock/{id}/restore", options) : api.POST("/api/stock/{id}/remove", options));
  });

export const useSaveFilm = () =>
  useRackWrite(({ id, version, body }: { id?: string; version?: number; body: FilmFields }, headers) =>
    unwrap(
      id !== undefined && version !== undefined
        ? api.PUT("/api/films/{id}", { params: { path: { id } }, body: { ...body, version }, headers })
        : api.POST("/api/films", { body, headers }),
    ),
  );

export const useRemoveFilm = () =>
  useRackWrite(({ id, version }: { id: string; version: number }, headers) =>
    unwrap(api.POST("/api/films/{id}/remove", { params: { path: { id } }, body: { version }, headers })),
  );

export const filmQuery = (id: string) =>
  queryOptions({ queryKey: ["film", id], queryFn: () => unwrap(api.GET("/api/films/{id}", { params: { path: { id } } })) });

export function useStrikeReading(filmId: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => unwrap(api.POST("/api/installed-readings/{id}/remove", { params: { path: { id } }, headers: writeHeaders(newWriteId()) })),
    onSuccess: (page) => {
      client.setQueryData(filmQuery(filmId).queryKey, page);
      void client.invalidateQueries({ queryKey: ["jobs"] });
    },
  });
}

import { queryOptions } from "@tanstack/react-query";
import { api, type Rack, type Schemas, type WriteHeaders } from "../../api/client";
import { rackQuery, WORKED_OUT } from "../../api/queries";
import { unwrap } from "../../api/unwrap";
import { asItIs, refresh, useWrite } from "../../shared";

type StockFields = Schemas["StockNew"];
type FilmFields = Schemas["FilmFields"];
interface Known {
  id: string;
  version: number;
}

/** Writes of films and stock answer with the whole rack, which decides plans and shades. */
function useRackWrite<Change>(send: (change: Change, headers: WriteHeaders) => Promise<Rack>) {
  return useWrite({
    prepare: asItIs<Change>,
    send,
    onDone: (rack, client) => {
      client.setQueryData(rackQuery().queryKey, rack);
      refresh(client, WORKED_OUT);
    },
  });
}

export const useSaveStock = () =>
  useRackWrite(({ known, body }: { known: Known | null; body: StockFields }, headers) =>
    unwrap(
      known
        ? api.PUT("/api/stock/{id}", {
            params: { path: { id: known.id } },
            body: { ...body, version: known.version },
            headers,
          })
        : api.POST("/api/stock", { body, headers }),
    ),
  );

export const useRemoveStock = () =>
  useRackWrite(({ id, version, restore }: Known & { restore?: boolean }, headers) => {
    const options = { params: { path: { id } }, body: { version }, headers };
    return unwrap(
      restore ? api.POST("/api/stock/{id}/restore", options) : api.POST("/api/stock/{id}/remove", options),
    );
  });

export const useSlit = () =>
  useRackWrite(({ id, version, at }: Known & { at: string }, headers) =>
    unwrap(api.POST("/api/stock/{id}/slit", { params: { path: { id } }, body: { version, at }, headers })),
  );

export const useSaveFilm = () =>
  useRackWrite(({ known, body }: { known: Known | null; body: FilmFields }, headers) =>
    unwrap(
      known
        ? api.PUT("/api/films/{id}", {
            params: { path: { id: known.id } },
            body: { ...body, version: known.version },
            headers,
          })
        : api.POST("/api/films", { body, headers }),
    ),
  );

export const useRemoveFilm = () =>
  useRackWrite(({ id, version }: Known, headers) =>
    unwrap(api.POST("/api/films/{id}/remove", { params: { path: { id } }, body: { version }, headers })),
  );

export const filmQuery = (id: string) =>
  queryOptions({
    queryKey: ["film", id],
    queryFn: () => unwrap(api.GET("/api/films/{id}", { params: { path: { id } } })),
  });

export const useStrikeReading = (filmId: string) =>
  useWrite({
    prepare: asItIs<Known>,
    send: ({ id, version }, headers) =>
      unwrap(
        api.POST("/api/installed-readings/{id}/remove", {
          params: { path: { id } },
          body: { version },
          headers,
        }),
      ),
    onDone: (page, client) => {
      client.setQueryData(filmQuery(filmId).queryKey, page);
      refresh(client, ["jobs"]);
    },
  });

import { queryOptions, skipToken } from "@tanstack/react-query";
import { api, type Rack, type Schemas, type WriteHeaders } from "../../api/client";
import { rackQuery, WORKED_OUT } from "../../api/queries";
import { unwrap } from "../../api/unwrap";
import { asItIs, refresh, stands, useWrite } from "../../shared";

type StockFields = Schemas["StockNew"] & { reason?: string };
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
      refresh(client, ["rack", ...WORKED_OUT]);
      stands(client, rackQuery().queryKey, rack);
    },
  });
}

/** New stock has no correction to give a reason for. */
function asNew(fields: StockFields): Schemas["StockNew"] {
  const body = { ...fields };
  delete body.reason;
  return body;
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
        : api.POST("/api/stock", { body: asNew(body), headers }),
    ),
  );

export const useSlit = () =>
  useRackWrite(({ id, version, at }: Known & { at: string }, headers) =>
    unwrap(api.POST("/api/stock/{id}/slit", { params: { path: { id } }, body: { version, at }, headers })),
  );

export const useBin = () =>
  useRackWrite(({ id, version, reason }: Known & { reason: string }, headers) =>
    unwrap(api.POST("/api/stock/{id}/bin", { params: { path: { id } }, body: { version, reason }, headers })),
  );

/** A piece of stock with its ledger. */
export const stockQuery = (id: string) =>
  queryOptions({
    queryKey: ["rack", "stock", id],
    queryFn: () => unwrap(api.GET("/api/stock/{id}", { params: { path: { id } } })),
  });

export const offcutsQuery = () =>
  queryOptions({ queryKey: ["rack", "offcuts"], queryFn: () => unwrap(api.GET("/api/rack/offcuts")) });

export const purchaseQuery = () =>
  queryOptions({ queryKey: ["rack", "purchase"], queryFn: () => unwrap(api.GET("/api/rack/purchase")) });

export const usedQuery = () =>
  queryOptions({ queryKey: ["rack", "used"], queryFn: () => unwrap(api.GET("/api/rack/used")) });

/** What a tape round a roll tells; asked only once both readings are typed. */
export const recountQuery = (id: string, girth: string, core: string) =>
  queryOptions({
    queryKey: ["rack", "recount", id, girth, core],
    queryFn:
      girth && core
        ? () =>
            unwrap(api.GET("/api/stock/{id}/recount", { params: { path: { id }, query: { girth, core } } }))
        : skipToken,
    retry: false,
  });

export const useFullRoll = (filmId: string) =>
  useWrite({
    prepare: asItIs<Schemas["FullRollBody"]>,
    send: (body, headers) =>
      unwrap(api.POST("/api/films/{id}/full-rolls", { params: { path: { id: filmId } }, body, headers })),
    onDone: (_page, client) => refresh(client, ["rack", "film"]),
  });

export const useStrikeFullRoll = () =>
  useWrite({
    prepare: asItIs<Known>,
    send: ({ id, version }, headers) =>
      unwrap(
        api.POST("/api/full-rolls/{id}/remove", { params: { path: { id } }, body: { version }, headers }),
      ),
    onDone: (_page, client) => refresh(client, ["rack", "film"]),
  });

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
      stands(client, filmQuery(filmId).queryKey, page);
      refresh(client, ["jobs"]);
    },
  });

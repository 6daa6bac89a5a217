import { api, AS_FILE, fileBody, type Schemas } from "../../api/client";
import { shelfCarQuery, type ShelfCar } from "../../api/queries";
import { unwrap } from "../../api/unwrap";
import { asItIs, refresh, stands, useWrite } from "../../shared";

export { shelfCarQuery };

/** A pane of a car. */
export type ShelfPane = ShelfCar["panes"][number];
export type { ShelfCar };

export const useImportShelf = () =>
  useWrite({
    prepare: asItIs<File>,
    send: (file, headers) =>
      unwrap(api.POST("/api/shelf/import", { headers: { ...headers, ...AS_FILE }, ...fileBody(file) })),
    onDone: (_, client) => refresh(client, ["shelf"]),
  });

type OnCar =
  { what: "change"; body: Schemas["CarPatch"] } | { what: "duplicate"; body: Schemas["CarFields"] };

/** Something done with a car of the shelf. */
export function useOnCar(id: string) {
  return useWrite({
    scope: `shelf-${id}`,
    prepare: asItIs<OnCar>,
    send: (act, headers) => {
      const params = { path: { id } };
      switch (act.what) {
        case "change":
          return unwrap(api.PATCH("/api/shelf/cars/{id}", { params, body: act.body, headers }));
        case "duplicate":
          return unwrap(api.POST("/api/shelf/cars/{id}/duplicate", { params, body: act.body, headers }));
      }
    },
    onDone: (car: ShelfCar, client) => {
      stands(client, shelfCarQuery(car.id).queryKey, car);
      void client.invalidateQueries({ queryKey: ["shelf", "list"] });
    },
  });
}

type OnPane =
  | { what: "change"; body: Schemas["PanePatch"] }
  | { what: "fitted"; body: Schemas["FittedIn"] }
  | { what: "other-side" | "remove"; version: number };

/** Something done with a pane of the shelf: changes make a new version of it. */
export function useOnPane(carId: string) {
  return useWrite({
    scope: `shelf-${carId}`,
    prepare: asItIs<{ id: string; act: OnPane }>,
    send: ({ id, act }, headers) => {
      const params = { path: { id } };
      switch (act.what) {
        case "change":
          return unwrap(api.PATCH("/api/shelf/panes/{id}", { params, body: act.body, headers }));
        case "fitted":
          return unwrap(api.POST("/api/shelf/panes/{id}/fitted", { params, body: act.body, headers }));
        case "other-side":
          return unwrap(
            api.POST("/api/shelf/panes/{id}/other-side", { params, body: { version: act.version }, headers }),
          );
        case "remove":
          return unwrap(
            api.POST("/api/shelf/panes/{id}/remove", { params, body: { version: act.version }, headers }),
          );
      }
    },
    onDone: (car: ShelfCar, client) => {
      stands(client, shelfCarQuery(car.id).queryKey, car);
      void client.invalidateQueries({ queryKey: ["shelf"] });
      void client.invalidateQueries({ queryKey: ["jobs"] });
    },
  });
}

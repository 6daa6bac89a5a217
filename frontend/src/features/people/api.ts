import { queryOptions, type QueryClient } from "@tanstack/react-query";
import { api, type Schemas } from "../../api/client";
import { unwrap } from "../../api/unwrap";
import { asItIs, refresh, stands, useWrite } from "../../shared";

export type People = Schemas["PeopleOut"];
export type Person = Schemas["PersonCard"];

export const peopleQuery = () =>
  queryOptions({ queryKey: ["people"], queryFn: () => unwrap(api.GET("/api/people")) });

const kept = (people: People, client: QueryClient) => {
  stands(client, peopleQuery().queryKey, people);
  refresh(client, ["day", "session"]);
};
const anew = (_: Error, client: QueryClient) => refresh(client, ["people"]);

export const useCreatePerson = () =>
  useWrite({
    scope: "people",
    prepare: asItIs<Schemas["PersonCreate"]>,
    send: (body, headers) => unwrap(api.POST("/api/people", { body, headers })),
    onDone: kept,
  });

export const useChangePerson = (id: string) =>
  useWrite({
    scope: "people",
    prepare: asItIs<Schemas["PersonPatch"]>,
    send: (body, headers) =>
      unwrap(api.PATCH("/api/people/{id}", { params: { path: { id } }, body, headers })),
    onDone: kept,
    onRefused: anew,
  });

export const useRemovePerson = (id: string, back: boolean) =>
  useWrite({
    scope: "people",
    prepare: asItIs<{ version: number }>,
    send: (body, headers) =>
      unwrap(
        back
          ? api.POST("/api/people/{id}/restore", { params: { path: { id } }, body, headers })
          : api.POST("/api/people/{id}/remove", { params: { path: { id } }, body, headers }),
      ),
    onDone: kept,
    onRefused: anew,
  });

export const useNewPassword = (id: string) =>
  useWrite({
    scope: "people",
    prepare: asItIs<Schemas["NewPasswordBody"]>,
    send: (body, headers) =>
      unwrap(api.PUT("/api/people/{id}/password", { params: { path: { id } }, body, headers })),
    onDone: kept,
  });

export const useSetDoors = () =>
  useWrite({
    scope: "people",
    prepare: asItIs<Schemas["DoorsBody"]>,
    send: (body, headers) => unwrap(api.PUT("/api/people/doors", { body, headers })),
    onDone: kept,
    onRefused: anew,
  });

export const useEnrolment = () =>
  useWrite({
    scope: "people",
    prepare: asItIs<null>,
    send: (_, headers) => unwrap(api.POST("/api/people/enrolment", { headers })),
  });

export const useRemoveDevice = (id: string) =>
  useWrite({
    scope: "people",
    prepare: asItIs<{ version: number }>,
    send: (body, headers) =>
      unwrap(api.POST("/api/people/devices/{id}/remove", { params: { path: { id } }, body, headers })),
    onDone: kept,
    onRefused: anew,
  });

import { queryOptions } from "@tanstack/react-query";
import { api, type Schemas } from "../../api/client";
import { cutterQuery, meterQuery, pickListsQuery, WORKED_OUT } from "../../api/queries";
import { unwrap } from "../../api/unwrap";
import { asItIs, refresh, stands, useWrite } from "../../shared";

export { cutterQuery, meterQuery };

export const startingValuesQuery = () =>
  queryOptions({ queryKey: ["starting-values"], queryFn: () => unwrap(api.GET("/api/starting-values")) });

export const useSetHome = () =>
  useWrite({
    scope: "home-states",
    prepare: asItIs<{ states: string[]; version: number }>,
    send: (body, headers) => unwrap(api.PUT("/api/home-states", { body, headers })),
    onDone: (lists, client) => {
      stands(client, pickListsQuery().queryKey, lists);
    },
    onRefused: (_, client) => refresh(client, ["pick-lists"]),
  });

export const useSetMeter = () =>
  useWrite({
    scope: "meter",
    prepare: asItIs<{ address: string; version: number }>,
    send: (body, headers) => unwrap(api.PUT("/api/meter", { body, headers })),
    onDone: (state, client) => {
      stands(client, meterQuery().queryKey, state);
    },
    onRefused: (_, client) => refresh(client, ["meter"]),
  });

export const useSetCutter = () =>
  useWrite({
    scope: "cutter",
    prepare: asItIs<{ address: string; version: number }>,
    send: (body, headers) => unwrap(api.PUT("/api/cutter", { body, headers })),
    onDone: (state, client) => {
      stands(client, cutterQuery().queryKey, state);
    },
    onRefused: (_, client) => refresh(client, ["cutter"]),
  });

export const waysQuery = () =>
  queryOptions({ queryKey: ["ways-of-cutting"], queryFn: () => unwrap(api.GET("/api/ways-of-cutting")) });

type Way = Schemas["CutMethod"];

export const useSetShopWay = () =>
  useWrite({
    scope: "ways-of-cutting",
    prepare: asItIs<{ way: Way; version: number }>,
    send: (body, headers) => unwrap(api.PUT("/api/ways-of-cutting/shop", { body, headers })),
    onDone: (ways, client) => {
      stands(client, waysQuery().queryKey, ways);
    },
    onRefused: (_, client) => refresh(client, ["ways-of-cutting"]),
  });

export const useSetOwnWay = () =>
  useWrite({
    scope: "ways-of-cutting",
    prepare: asItIs<{ way: Way | null; version: number }>,
    send: (body, headers) => unwrap(api.PUT("/api/ways-of-cutting/own", { body, headers })),
    onDone: (ways, client) => {
      stands(client, waysQuery().queryKey, ways);
    },
    onRefused: (_, client) => refresh(client, ["ways-of-cutting"]),
  });

export const schoolQuery = () =>
  queryOptions({ queryKey: ["shrink-school"], queryFn: () => unwrap(api.GET("/api/shrink-school")) });

export const useSetSchool = () =>
  useWrite({
    scope: "shrink-school",
    prepare: asItIs<Schemas["SchoolBody"]>,
    send: (body, headers) => unwrap(api.PUT("/api/shrink-school", { body, headers })),
    onDone: (school, client) => {
      stands(client, schoolQuery().queryKey, school);
      refresh(client, ["shrink"]);
    },
    onRefused: (_, client) => refresh(client, ["shrink-school"]),
  });

export const baySchoolsQuery = () =>
  queryOptions({ queryKey: ["bay-schools"], queryFn: () => unwrap(api.GET("/api/bay-schools")) });

export const useSetShopSchools = () =>
  useWrite({
    scope: "bay-schools",
    prepare: asItIs<Schemas["ShopSchoolsBody"]>,
    send: (body, headers) => unwrap(api.PUT("/api/bay-schools/shop", { body, headers })),
    onDone: (schools, client) => {
      stands(client, baySchoolsQuery().queryKey, schools);
      refresh(client, ["bay"]);
    },
    onRefused: (_, client) => refresh(client, ["bay-schools"]),
  });

export const useSetOwnSchools = () =>
  useWrite({
    scope: "bay-schools",
    prepare: asItIs<Schemas["OwnSchoolsBody"]>,
    send: (body, headers) => unwrap(api.PUT("/api/bay-schools/own", { body, headers })),
    onDone: (schools, client) => {
      stands(client, baySchoolsQuery().queryKey, schools);
      refresh(client, ["bay"]);
    },
    onRefused: (_, client) => refresh(client, ["bay-schools"]),
  });

export const thermometerStateQuery = () =>
  queryOptions({ queryKey: ["thermometer", "state"], queryFn: () => unwrap(api.GET("/api/thermometer")) });

export const useSetThermometer = () =>
  useWrite({
    scope: "thermometer",
    prepare: asItIs<{ address: string; version: number }>,
    send: (body, headers) => unwrap(api.PUT("/api/thermometer", { body, headers })),
    onDone: (state, client) => {
      stands(client, thermometerStateQuery().queryKey, state);
    },
    onRefused: (_, client) => refresh(client, ["thermometer"]),
  });

export const useSetValue = () =>
  useWrite({
    scope: "starting-values",
    prepare: asItIs<{ name: string; value: number | null; version: number }>,
    send: ({ name, value, version }, headers) =>
      unwrap(
        api.PUT("/api/starting-values/{name}", {
          params: { path: { name } },
          body: { value, version },
          headers,
        }),
      ),
    onDone: (values, client) => {
      stands(client, startingValuesQuery().queryKey, values);
      refresh(client, WORKED_OUT);
    },
    onRefused: (_, client) => refresh(client, ["starting-values"]),
  });

export type Prices = Schemas["PriceListOut"];
export type Standard = Schemas["StandardOut"];
export type Letterhead = Schemas["LetterheadOut"];

export const pricesQuery = () =>
  queryOptions({ queryKey: ["prices"], queryFn: () => unwrap(api.GET("/api/price-list")) });

export const useSetPrices = () =>
  useWrite({
    scope: "prices",
    prepare: asItIs<Schemas["PriceListBody"]>,
    send: (body, headers) => unwrap(api.PUT("/api/price-list", { body, headers })),
    onDone: (list, client) => {
      stands(client, pricesQuery().queryKey, list);
      refresh(client, ["quote"]);
    },
    onRefused: (_, client) => refresh(client, ["prices"]),
  });

export const unmeteredQuery = () =>
  queryOptions({ queryKey: ["unmetered-glass"], queryFn: () => unwrap(api.GET("/api/unmetered-glass")) });

export const useSetUnmetered = () =>
  useWrite({
    scope: "unmetered-glass",
    prepare: asItIs<Schemas["UnmeteredBody"]>,
    send: (body, headers) => unwrap(api.PUT("/api/unmetered-glass", { body, headers })),
    onDone: (word, client) => {
      stands(client, unmeteredQuery().queryKey, word);
      refresh(client, ["jobs", "plan"]);
    },
    onRefused: (_, client) => refresh(client, ["unmetered-glass"]),
  });

export const useStartingPrices = () =>
  useWrite({
    scope: "prices",
    prepare: asItIs<Schemas["StartingPricesBody"]>,
    send: (body, headers) => unwrap(api.POST("/api/price-list/starting", { body, headers })),
    onDone: (list, client) => {
      stands(client, pricesQuery().queryKey, list);
      refresh(client, ["quote"]);
    },
    onRefused: (_, client) => refresh(client, ["prices"]),
  });

export const standardQuery = () =>
  queryOptions({ queryKey: ["standard"], queryFn: () => unwrap(api.GET("/api/look-standard")) });

export const flawKindsQuery = () =>
  queryOptions({
    queryKey: ["flaw-kinds"],
    queryFn: () => unwrap(api.GET("/api/flaw-kinds")),
    select: (found) => found.kinds,
    staleTime: Infinity,
  });

export const useSetStandard = () =>
  useWrite({
    scope: "standard",
    prepare: asItIs<Schemas["StandardBody"]>,
    send: (body, headers) => unwrap(api.PUT("/api/look-standard", { body, headers })),
    onDone: (kept, client) => {
      stands(client, standardQuery().queryKey, kept);
      refresh(client, ["look", "handover"]);
    },
    onRefused: (_, client) => refresh(client, ["standard"]),
  });

export const letterheadQuery = () =>
  queryOptions({ queryKey: ["letterhead"], queryFn: () => unwrap(api.GET("/api/letterhead")) });

export const useSetLetterhead = () =>
  useWrite({
    scope: "letterhead",
    prepare: asItIs<Schemas["LetterheadBody"]>,
    send: (body, headers) => unwrap(api.PUT("/api/letterhead", { body, headers })),
    onDone: (kept, client) => {
      stands(client, letterheadQuery().queryKey, kept);
      refresh(client, ["handover"]);
    },
    onRefused: (_, client) => refresh(client, ["letterhead"]),
  });

export const shopDayQuery = () =>
  queryOptions({ queryKey: ["day", "shop"], queryFn: () => unwrap(api.GET("/api/shop-day")) });

export const useSetShopDay = () =>
  useWrite({
    scope: "shop-day",
    prepare: asItIs<Schemas["ShopDayBody"]>,
    send: (body, headers) => unwrap(api.PUT("/api/shop-day", { body, headers })),
    onDone: (_, client) => refresh(client, ["day"]),
    onRefused: (_, client) => refresh(client, ["day"]),
  });

export const useNewCalendar = () =>
  useWrite({
    scope: "shop-day",
    prepare: asItIs<null>,
    send: (_, headers) => unwrap(api.POST("/api/shop-day/calendar", { headers })),
    onDone: (_, client) => refresh(client, ["day"]),
  });

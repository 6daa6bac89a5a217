import { createBrowserRouter } from "react-router";
import { MePage } from "../features/session";
import { Enrolled } from "./Enrolled";
import { Missing } from "./Missing";
import { Shell } from "./Shell";

/** One chunk a place, and one a station within a job, loaded when first opened. */
export const router = createBrowserRouter([
  {
    path: "/",
    Component: Shell,
    ErrorBoundary: Missing,
    HydrateFallback: () => null,
    children: [
      { index: true, lazy: async () => ({ Component: (await import("../features/board")).BoardPage }) },
      { path: "jobs", lazy: async () => ({ Component: (await import("../features/jobs")).JobsPage }) },
      { path: "jobs/new", lazy: async () => ({ Component: (await import("../features/jobs")).NewJobPage }) },
      {
        path: "jobs/:jobId/:station?",
        lazy: async () => ({ Component: (await import("../features/job")).JobPage }),
      },
      {
        path: "together",
        lazy: async () => ({ Component: (await import("../features/together")).TogetherPage }),
      },
      { path: "quick", lazy: async () => ({ Component: (await import("../features/quick")).QuickPage }) },
      { path: "rack", lazy: async () => ({ Component: (await import("../features/rack")).RackPage }) },
      {
        path: "rack/film",
        lazy: async () => ({ Component: (await import("../features/rack")).FilmListsPage }),
      },
      {
        path: "rack/:stockId",
        lazy: async () => ({ Component: (await import("../features/rack")).StockPage }),
      },
      { path: "films", lazy: async () => ({ Component: (await import("../features/rack")).FilmsPage }) },
      {
        path: "films/:filmId",
        lazy: async () => ({ Component: (await import("../features/rack")).FilmPage }),
      },
      { path: "shelf", lazy: async () => ({ Component: (await import("../features/shelf")).ShelfPage }) },
      {
        path: "shelf/:carId",
        lazy: async () => ({ Component: (await import("../features/shelf")).ShelfCarPage }),
      },
      { path: "rules", lazy: async () => ({ Component: (await import("../features/rules")).RulesPage }) },
      {
        path: "rules/:code",
        lazy: async () => ({ Component: (await import("../features/rules")).RulePage }),
      },
      {
        path: "rules/:code/confirm",
        lazy: async () => ({ Component: (await import("../features/rules")).ConfirmPage }),
      },
      { path: "look-up", lazy: async () => ({ Component: (await import("../features/rules")).LookUpPage }) },
      { path: "shop", lazy: async () => ({ Component: (await import("../features/shop")).ShopPage }) },
      {
        path: "shop/prices",
        lazy: async () => ({ Component: (await import("../features/shop")).PricesPage }),
      },
      {
        path: "shop/standard",
        lazy: async () => ({ Component: (await import("../features/shop")).StandardPage }),
      },
      { path: "calls", lazy: async () => ({ Component: (await import("../features/calls")).CallsPage }) },
      {
        path: "calls/:windowId",
        lazy: async () => ({ Component: (await import("../features/calls")).HistoryPage }),
      },
      { path: "recall", lazy: async () => ({ Component: (await import("../features/calls")).RecallPage }) },
      {
        path: "customers",
        lazy: async () => ({ Component: (await import("../features/customers")).CustomersPage }),
      },
      {
        path: "customers/:customerId",
        lazy: async () => ({ Component: (await import("../features/customers")).CustomerPage }),
      },
      { path: "ledger", lazy: async () => ({ Component: (await import("../features/ledger")).LedgerPage }) },
      { path: "day/:day?", lazy: async () => ({ Component: (await import("../features/day")).DayPage }) },
      { path: "people", lazy: async () => ({ Component: (await import("../features/people")).PeoplePage }) },
      {
        path: "keeping",
        lazy: async () => ({ Component: (await import("../features/keeping")).KeepingPage }),
      },
      {
        path: "practice",
        lazy: async () => ({ Component: (await import("../features/practice")).PracticePage }),
      },
      {
        path: "practice/:runId",
        lazy: async () => ({ Component: (await import("../features/practice")).RunPage }),
      },
      { path: "me", Component: MePage },
      { path: "enrol", Component: Enrolled },
      { path: "*", Component: Missing },
    ],
  },
]);

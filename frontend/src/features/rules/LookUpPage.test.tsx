import { act, screen } from "@testing-library/react";
import { expect, it } from "vitest";
import { shown } from "../../test/shown";
import { LookUpPage } from "./LookUpPage";

it("shows its fields once the shop's own state is known, for what comes later would wipe out what is typed", async () => {
  localStorage.clear();
  let tell: (lists: object) => void = () => undefined;
  const lists = new Promise<object>((resolve) => (tell = resolve));
  const { user } = shown(<LookUpPage />, {
    "GET /api/rules": {
      states: [
        { code: "AZ", name: "Arizonia" },
        { code: "FY", name: "Floriday" },
      ],
    },
    "GET /api/rack": { films: [] },
    "GET /api/pick-lists": () => lists,
  });
  await act(() => new Promise((resolve) => setTimeout(resolve, 50))); // the other answers have come
  expect(screen.queryByRole("combobox", { name: "State" })).toBeNull();
  tell({ home: { states: ["AZ"] } });
  const field = await screen.findByRole("combobox", { name: "State" });
  expect(field).toHaveValue("Arizonia");
  await user.tripleClick(field);
  await user.keyboard("Flo");
  await user.click(screen.getByRole("option", { name: "Floriday" }));
  expect(field).toHaveValue("Floriday");
});

import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { refused, shown, type Answers } from "../../test/shown";
import type { Customer } from "./api";
import { CustomerPage } from "./CustomerPage";
import { CustomersPage } from "./CustomersPage";

const customer = (more: Partial<Customer> = {}): Customer => ({
  id: "c1",
  name: "Rosa Vale",
  phone: "555 0100",
  email: "",
  note: "",
  version: 6,
  archived: false,
  merged_into: null,
  erased_on: "",
  vehicles: [],
  jobs: [],
  ...more,
});

const list = (...customers: object[]) => ({ customers, total: customers.length, page: 1, pages: 1 });

describe("the customers", () => {
  it("finds by what is typed, and says when nobody has it", async () => {
    const { user } = shown(
      <CustomersPage />,
      {
        "GET /api/customers?search=&page=1": list(customer()),
        "GET /api/customers?search=zz&page=1": list(),
        "GET /api/customers": list(),
      },
      { at: "/customers", path: "/customers" },
    );
    expect(await screen.findByRole("link", { name: "Rosa Vale" })).toHaveAttribute("href", "/customers/c1");
    await user.type(screen.getByLabelText("Search"), "zz");
    expect(await screen.findByText("Nobody on file has “zz”.")).toBeVisible();
  });

  it("says how the first one comes on file", async () => {
    shown(<CustomersPage />, { "GET /api/customers": list() });
    expect(await screen.findByText(/Nobody is on file yet/)).toBeVisible();
  });

  it("puts somebody on file by name and goes there; a name of blanks is none", async () => {
    const { user, written, router } = shown(
      <CustomersPage />,
      { "GET /api/customers": list(), "POST /api/customers": customer({ id: "c9", name: "Ned Orr" }) },
      { at: "/customers", path: "/customers" },
    );
    const name = await screen.findByLabelText("A new customer");
    await user.type(name, "   ");
    expect(screen.getByRole("button", { name: "Put on file" })).toBeDisabled();
    await user.type(name, "Ned Orr ");
    await user.click(screen.getByRole("button", { name: "Put on file" }));
    await waitFor(() => expect(router.state.location.pathname).toBe("/customers/c9"));
    expect(written[0]?.body).toEqual({ name: "Ned Orr", phone: "", email: "", note: "" });
  });

  it("turns pages and keeps the search in the address", async () => {
    const { user, router } = shown(
      <CustomersPage />,
      { "GET /api/customers": { ...list(customer()), total: 60, pages: 3 } },
      { at: "/customers?q=va", path: "/customers" },
    );
    await user.click(await screen.findByRole("button", { name: "Go to page 2" }));
    expect(router.state.location.search).toBe("?q=va&page=2");
  });
});

describe("one customer", () => {
  let answers: Answers;
  const at = { at: "/customers/c1", path: "/customers/:customerId" };
  beforeEach(() => {
    answers = {
      "GET /api/customers/c1": customer(),
      "GET /api/customers": list(customer(), customer({ id: "c2", name: "R. Vale", phone: "555 0199" })),
    };
  });

  it("says what is known, and that nothing is", async () => {
    shown(<CustomerPage />, answers, at);
    expect(await screen.findByText("None on file.")).toBeVisible();
    expect(screen.getByText("None yet.")).toBeVisible();
    expect(screen.getByLabelText("Telephone")).toHaveValue("555 0100");
  });

  it("lists cars and jobs with where they stand", async () => {
    answers["GET /api/customers/c1"] = customer({
      vehicles: [{ id: "v1", label: "Fenwick 4 sedan", plate: "TNT 4", vin: "" }] as Customer["vehicles"],
      jobs: [
        { id: "j1", number: 1001, vehicle_label: "Fenwick 4", status: "in_bay", handed_over_on: "" },
        {
          id: "j2",
          number: 988,
          vehicle_label: "Fenwick 4",
          status: "delivered",
          handed_over_on: "2026-05-02",
        },
      ] as unknown as Customer["jobs"],
    });
    shown(<CustomerPage />, answers, at);
    expect(await screen.findByRole("link", { name: "1001 Fenwick 4" })).toHaveAttribute("href", "/jobs/j1");
    const jobs = screen.getByRole("region", { name: "Jobs" });
    expect(jobs).toHaveTextContent("1001 Fenwick 4 in the bay");
    expect(jobs).toHaveTextContent("988 Fenwick 4 went 2026-05-02");
    expect(screen.getByRole("region", { name: "Cars" })).toHaveTextContent("Fenwick 4 sedan TNT 4");
  });

  it("keeps a change with its version, and what was typed when it is refused", async () => {
    answers["PATCH /api/customers/c1"] = refused(409, "Somebody changed this record meanwhile.");
    const { user, written } = shown(<CustomerPage />, answers, at);
    const field = await screen.findByLabelText("E-mail");
    await user.type(field, "rosa@example.org");
    await user.click(screen.getByRole("button", { name: "Keep" }));
    expect(await screen.findByText("Somebody changed this record meanwhile.")).toBeVisible();
    expect(screen.getByLabelText("E-mail")).toHaveValue("rosa@example.org");
    expect(written[0]?.body).toEqual({
      name: "Rosa Vale",
      phone: "555 0100",
      email: "rosa@example.org",
      note: "",
      version: 6,
    });
  });

  it("merges into another, never into itself, and goes to the one that stands", async () => {
    answers["POST /api/customers/c1/merge"] = customer({ id: "c2", name: "R. Vale" });
    const { user, written, router } = shown(<CustomerPage />, answers, at);
    const part = await screen.findByRole("region", { name: "The same person twice?" });
    expect(within(part).getByRole("button", { name: "Merge" })).toBeDisabled();
    await user.click(await within(part).findByRole("combobox", { name: "Merge into" }));
    expect(screen.queryByRole("option", { name: /Rosa Vale/ })).toBeNull();
    await user.click(screen.getByRole("option", { name: "R. Vale 555 0199" }));
    await user.click(within(part).getByRole("button", { name: "Merge" }));
    expect(await screen.findByText("Rosa Vale went into R. Vale.")).toBeVisible();
    expect(written[0]?.body).toEqual({ into: "c2", version: 6 });
    expect(router.state.location.pathname).toBe("/customers/c2");
  });

  it("points from a merged record to the one that stands", async () => {
    answers["GET /api/customers/c1"] = customer({ merged_into: "c2" });
    shown(<CustomerPage />, answers, at);
    expect(await screen.findByText("Rosa Vale was merged")).toBeVisible();
    expect(screen.getByRole("link", { name: "To the record that stands" })).toHaveAttribute(
      "href",
      "/customers/c2",
    );
  });

  it("erases only by the name typed, and says what the server says against it", async () => {
    answers["POST /api/customers/c1/erase"] = refused(422, "Type the name as it stands: Rosa Vale.");
    const { user, written } = shown(<CustomerPage />, answers, at);
    const erase = await screen.findByRole("button", { name: "Erase" });
    expect(erase).toBeDisabled();
    await user.type(screen.getByLabelText("Type the name to erase"), "Rosa");
    await user.click(erase);
    expect(await screen.findByText("Type the name as it stands: Rosa Vale.")).toBeVisible();
    expect(written[0]?.body).toEqual({ name: "Rosa", version: 6 });
  });

  it("offers nothing to change on an erased record", async () => {
    answers["GET /api/customers/c1"] = customer({ name: "Erased", erased_on: "2026-10-01" });
    shown(<CustomerPage />, answers, at);
    expect(await screen.findByText(/Erased on 2026-10-01\. Cuts, films and figures stay\./)).toBeVisible();
    expect(screen.queryByRole("button", { name: "Keep" })).toBeNull();
    expect(screen.queryByRole("button", { name: "Erase" })).toBeNull();
  });
});

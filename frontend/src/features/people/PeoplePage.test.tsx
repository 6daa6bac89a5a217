import { screen, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { LEAD, refused, session, shown, type Answers } from "../../test/shown";
import type { People, Person } from "./api";
import { PeoplePage } from "./PeoplePage";

const person = (id: string, name: string, more: Partial<Person> = {}): Person => ({
  id,
  name,
  role: "installer",
  version: 3,
  days_off: [],
  here: 0,
  hours: null,
  password: true,
  pin: false,
  prices: true,
  removed: false,
  skills: ["prep", "film"],
  to_be_changed: false,
  ...more,
});

const shop = (more: Partial<People["doors"]> = {}): People => ({
  people: [
    person("ruth", "Ruth Amsel", { role: "owner", here: 2 }),
    person("tobi", "Tobi Lund", { days_off: ["2026-12-24"] }),
    person("gone", "Otto Fell", { removed: true }),
  ],
  devices: [],
  doors: {
    lan: false,
    home: false,
    told: ["Only this machine reaches Elumbra."],
    addresses: [],
    plain: "",
    fingerprint: "",
    idle_minutes_bench: 30,
    idle_minutes_device: 15,
    version: 7,
    ...more,
  },
});

const OWNER = { ...LEAD, id: "ruth", name: "Ruth Amsel", role: "owner" };

describe("people", () => {
  let answers: Answers;
  beforeEach(() => {
    answers = { "GET /api/session": session(OWNER), "GET /api/people": shop() };
  });

  it("counts those who are here and says what is opened to whom", async () => {
    shown(<PeoplePage />, answers);
    expect(await screen.findByText("2 people, this machine only")).toBeVisible();
    expect(screen.getByText("Only this machine reaches Elumbra.")).toBeVisible();
    expect(screen.getByRole("button", { name: /Otto Fell/ })).toBeVisible();
    expect(screen.getByRole("region", { name: "No longer here" })).toBeVisible();
    expect(screen.getByRole("button", { name: /Ruth Amsel/ })).toHaveTextContent("owner · signed in");
  });

  it("shows all and changes nothing for somebody who is not the owner", async () => {
    const { user } = shown(<PeoplePage />, { ...answers, "GET /api/session": session() });
    expect(await screen.findByText(/The owner changes people/)).toBeVisible();
    await user.click(screen.getByRole("button", { name: /Tobi Lund/ }));
    expect(screen.getByRole("checkbox", { name: "Sees prices" })).toBeDisabled();
    expect(screen.queryByRole("button", { name: "Add somebody" })).toBeNull();
    expect(screen.queryByRole("button", { name: "No longer here" })).toBeNull();
    expect(screen.queryByLabelText("New password")).toBeNull();
  });

  it("adds somebody once the password is long enough, and sends it once", async () => {
    answers["POST /api/people"] = { ...shop(), people: [...shop().people, person("ola", "Ola Berg")] };
    const { user, written } = shown(<PeoplePage />, answers);
    await user.click(await screen.findByRole("button", { name: "Add somebody" }));
    const form = screen.getByRole("region", { name: "Somebody new" });
    await user.type(within(form).getByLabelText("Name"), "Ola Berg");
    await user.type(within(form).getByLabelText("First password"), "short");
    expect(within(form).getByRole("button", { name: "Add" })).toBeDisabled();
    await user.type(within(form).getByLabelText("First password"), " one more");
    await user.click(within(form).getByRole("button", { name: "Add" }));
    expect(await screen.findByRole("button", { name: /Ola Berg/ })).toBeVisible();
    expect(written).toHaveLength(1);
    expect(written[0]?.body).toEqual({ name: "Ola Berg", role: "installer", password: "short one more" });
    expect(written[0]?.id).toMatch(/^[0-9a-f-]{36}$/);
    expect(screen.queryByRole("region", { name: "Somebody new" })).toBeNull();
  });

  it("says at its field what the server refused, and keeps what was typed", async () => {
    answers["POST /api/people"] = refused(422, "There is a Tobi Lund already.", { name: "Tell them apart." });
    const { user } = shown(<PeoplePage />, answers);
    await user.click(await screen.findByRole("button", { name: "Add somebody" }));
    const form = screen.getByRole("region", { name: "Somebody new" });
    await user.type(within(form).getByLabelText("Name"), "Tobi Lund");
    await user.type(within(form).getByLabelText("First password"), "long enough");
    await user.click(within(form).getByRole("button", { name: "Add" }));
    expect(await within(form).findByText("There is a Tobi Lund already.")).toBeVisible();
    expect(within(form).getByText("Tell them apart.")).toBeVisible();
    expect(within(form).getByLabelText("Name")).toHaveValue("Tobi Lund");
  });

  it("changes one thing of a person with the version it was read at", async () => {
    answers["PATCH /api/people/tobi"] = shop();
    const { user, written } = shown(<PeoplePage />, answers);
    await user.click(await screen.findByRole("button", { name: /Tobi Lund/ }));
    await user.click(screen.getByRole("checkbox", { name: "Sees prices" }));
    await user.clear(screen.getByLabelText("Days off"));
    await user.type(screen.getByLabelText("Days off"), "2026-12-24 2026-12-27");
    await user.click(screen.getByRole("button", { name: "Keep the days" }));
    expect(written.map((one) => one.body)).toEqual([
      { version: 3, prices: false },
      { version: 3, days_off: ["2026-12-24", "2026-12-27"] },
    ]);
  });

  it("brings somebody back", async () => {
    answers["POST /api/people/gone/restore"] = shop();
    const { user, written } = shown(<PeoplePage />, answers);
    await user.click(await screen.findByRole("button", { name: /Otto Fell/ }));
    await user.click(screen.getByRole("button", { name: "Bring back" }));
    expect(written.map((one) => one.to)).toEqual(["POST /api/people/gone/restore"]);
  });

  it("enrols no device while other devices do not reach the server, and says how they would", async () => {
    shown(<PeoplePage />, answers);
    expect(await screen.findByRole("button", { name: "Enrol a device" })).toBeDisabled();
    expect(screen.getByText(/Start the server with its option lan/)).toBeVisible();
  });

  it("shows the code of an enrolment, its address and until when it counts", async () => {
    answers["GET /api/people"] = shop({ lan: true, plain: "http://10.0.0.4:8480", fingerprint: "AB:CD:EF" });
    answers["POST /api/people/enrolment"] = {
      code: "KX7-4PM",
      until: "2026-11-27T10:15:00Z",
      address: "https://10.0.0.4:8443/enrol?code=KX7-4PM",
      qr_svg: "<svg xmlns='http://www.w3.org/2000/svg'/>",
    };
    const { user } = shown(<PeoplePage />, answers);
    expect(await screen.findByText("AB CD EF")).toBeVisible();
    await user.click(screen.getByRole("button", { name: "Enrol a device" }));
    const dialog = await screen.findByRole("dialog", { name: "Enrol a device" });
    expect(within(dialog).getByText("KX7-4PM")).toBeVisible();
    expect(within(dialog).getByRole("img", { name: "Code KX7-4PM" })).toBeVisible();
    expect(within(dialog).getByText(/https:\/\/10\.0\.0\.4:8443/)).toBeVisible();
  });

  it("sets the doors with whole minutes, and nothing under one", async () => {
    answers["PUT /api/people/doors"] = shop();
    const { user, written } = shown(<PeoplePage />, answers);
    const bench = await screen.findByLabelText("Locked after, bench [min]");
    await user.clear(bench);
    const doors = screen.getByRole("region", { name: "Doors" });
    expect(within(doors).getByRole("button", { name: "Keep" })).toBeDisabled();
    await user.type(bench, "45");
    await user.click(within(doors).getByRole("button", { name: "Keep" }));
    expect(written.map((one) => one.body)).toEqual([
      { idle_minutes_bench: 45, idle_minutes_device: 15, home: false, version: 7 },
    ]);
  });

  it("says what failed and tries again on demand", async () => {
    let down = true;
    answers["GET /api/people"] = () => (down ? refused(503, "The shop's data is being put back.") : shop());
    const { user } = shown(<PeoplePage />, answers);
    expect(await screen.findByText("The shop's data is being put back.")).toBeVisible();
    down = false;
    await user.click(screen.getByRole("button", { name: /again/i }));
    expect(await screen.findByText("2 people, this machine only")).toBeVisible();
  });
});

import { screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { refused, shown } from "../../test/shown";
import type { Session } from "./api";
import { MePage } from "./MePage";
import { StartPage } from "./StartPage";

type Name = Session["people"][number];
const name = (id: string, words: string, more: Partial<Name> = {}): Name => ({
  id,
  name: words,
  role: "installer",
  pin: false,
  no_password: false,
  ...more,
});

const doors = (more: Partial<Session> = {}): Session => ({
  at_the_machine: true,
  device: "",
  ended: "",
  first_start: false,
  home: false,
  known_passwords: {},
  must_change: false,
  people: [name("ines", "Ines Varga", { role: "lead" }), name("tobi", "Tobi Lund", { pin: true })],
  person: null,
  secure: true,
  version: "0.11.0",
  ...more,
});

describe("the start page", () => {
  it("asks who is working and takes his password, sent with the name that was touched", async () => {
    const { user, written } = shown(<StartPage session={doors()} />, { "POST /api/session": doors() });
    await user.click(screen.getByRole("button", { name: /Ines Varga/ }));
    expect(screen.queryByRole("button", { name: "By PIN" })).toBeNull();
    expect(screen.getByRole("button", { name: "Sign in" })).toBeDisabled();
    await user.type(screen.getByLabelText("Password"), "rain on the glass{Enter}");
    await waitFor(() => expect(written).toHaveLength(1));
    expect(written[0]?.body).toEqual({ person_id: "ines", password: "rain on the glass" });
  });

  it("takes a PIN by large digits on an enrolled device only", async () => {
    const session = doors({ device: "Tablet in bay 1" });
    const { user, written } = shown(<StartPage session={session} />, { "POST /api/session": session });
    await user.click(screen.getByRole("button", { name: /Tobi Lund/ }));
    const digits = within(screen.getByRole("group", { name: "Digits" }));
    for (const digit of ["4", "0", "7", "1"]) await user.click(digits.getByRole("button", { name: digit }));
    await user.click(screen.getByRole("button", { name: "Sign in" }));
    await waitFor(() => expect(written).toHaveLength(1));
    expect(written[0]?.body).toEqual({ person_id: "tobi", pin: "4071" });
  });

  it("asks for the password of somebody with a PIN where the device is not enrolled", async () => {
    const { user } = shown(<StartPage session={doors()} />, {});
    await user.click(screen.getByRole("button", { name: /Tobi Lund/ }));
    expect(screen.getByLabelText("Password")).toBeVisible();
    expect(screen.queryByRole("group", { name: "Digits" })).toBeNull();
  });

  it("says why it was refused, empties the field, and lets another name be touched", async () => {
    const wait = "Too many tries. Wait 30 seconds.";
    const { user } = shown(<StartPage session={doors()} />, { "POST /api/session": refused(429, wait) });
    await user.click(screen.getByRole("button", { name: /Ines Varga/ }));
    await user.type(screen.getByLabelText("Password"), "guess{Enter}");
    expect(await screen.findByText(wait)).toBeVisible();
    expect(screen.getByLabelText("Password")).toHaveValue("");
    await user.click(screen.getByRole("button", { name: "Somebody else" }));
    expect(screen.getByText("Who is working?")).toBeVisible();
  });

  it("says a made-up shop's password, and signs in by it in one touch", async () => {
    const session = doors({ known_passwords: { ines: "demo-ines" } });
    const { user, written } = shown(<StartPage session={session} />, { "POST /api/session": session });
    await user.click(screen.getByRole("button", { name: /Ines Varga/ }));
    expect(screen.getByText("In this made-up shop: demo-ines")).toBeVisible();
    await user.click(screen.getByRole("button", { name: "As the demo says" }));
    await waitFor(() => expect(written[0]?.body).toEqual({ person_id: "ines", password: "demo-ines" }));
  });

  it("shows no names to a device that nobody enrolled", async () => {
    const session = doors({ people: [], at_the_machine: false, secure: false });
    const { user, written } = shown(<StartPage session={session} />, { "POST /api/session": session });
    await user.type(screen.getByLabelText("Your name"), "Tobi Lund");
    await user.type(screen.getByLabelText("Password"), "a few words{Enter}");
    await waitFor(() => expect(written[0]?.body).toEqual({ name: "Tobi Lund", password: "a few words" }));
    expect(screen.getByText(/did not come over https, so nothing is kept on this device/)).toBeVisible();
  });

  it("says why a session ended", () => {
    shown(<StartPage session={doors({ ended: "Locked after 30 minutes without a touch." })} />, {});
    expect(screen.getByText("Locked after 30 minutes without a touch.")).toBeVisible();
  });

  it("enrols a device by the code in its address and the name that is typed", async () => {
    const session = doors({ people: [], at_the_machine: false });
    const { user, written } = shown(
      <StartPage session={session} />,
      { "POST /api/session/device": doors({ device: "Tablet in bay 2" }) },
      { at: "/enrol?code=KX7-4PM" },
    );
    expect(screen.getByLabelText("Code")).toHaveValue("KX7-4PM");
    expect(screen.getByRole("button", { name: "Enrol this device" })).toBeDisabled();
    await user.type(screen.getByLabelText("Name of this device"), "Tablet in bay 2");
    await user.click(screen.getByRole("button", { name: "Enrol this device" }));
    await waitFor(() => expect(written[0]?.body).toEqual({ code: "KX7-4PM", name: "Tablet in bay 2" }));
  });

  it("says that an enrolment's code is spent", async () => {
    const { user } = shown(
      <StartPage session={doors({ people: [] })} />,
      {
        "POST /api/session/device": refused(422, "This code was used or is over. The owner shows a new one."),
      },
      { at: "/enrol?code=OLD" },
    );
    await user.type(screen.getByLabelText("Name of this device"), "Tablet");
    await user.click(screen.getByRole("button", { name: "Enrol this device" }));
    expect(
      await screen.findByText("This code was used or is over. The owner shows a new one."),
    ).toBeVisible();
  });
});

describe("a shop that nobody owns", () => {
  const fresh = doors({ first_start: true, people: [] });

  it("is opened on its machine only", () => {
    shown(<StartPage session={{ ...fresh, at_the_machine: false }} />, {});
    expect(screen.getByText("Nobody owns this shop yet")).toBeVisible();
    expect(screen.queryByRole("button")).toBeNull();
  });

  it("is opened with a name and a password typed twice alike", async () => {
    const { user, written } = shown(<StartPage session={fresh} />, { "POST /api/session/owner": doors() });
    await user.type(screen.getByLabelText("Your name"), "Ruth Amsel");
    await user.type(screen.getByLabelText("Password"), "eight or more");
    await user.type(screen.getByLabelText("Once more"), "eight or mor");
    expect(screen.getByText("Not the same.")).toBeVisible();
    expect(screen.getByRole("button", { name: "Open the shop" })).toBeDisabled();
    await user.type(screen.getByLabelText("Once more"), "e");
    await user.click(screen.getByRole("button", { name: "Open the shop" }));
    await waitFor(() => expect(written).toHaveLength(1));
    expect(written[0]?.body).toEqual({ name: "Ruth Amsel", password: "eight or more", home: false });
  });

  it("needs no password at home", async () => {
    const { user, written } = shown(<StartPage session={fresh} />, { "POST /api/session/owner": doors() });
    await user.type(screen.getByLabelText("Your name"), "Ruth");
    await user.click(screen.getByRole("checkbox", { name: /Just me, at home/ }));
    expect(screen.queryByLabelText("Password")).toBeNull();
    await user.click(screen.getByRole("button", { name: "Begin" }));
    await waitFor(() => expect(written[0]?.body).toEqual({ name: "Ruth", password: null, home: true }));
  });
});

describe("one's own page", () => {
  const seated = (more: object = {}, session: Partial<Session> = {}) =>
    doors({
      person: {
        id: "tobi",
        name: "Tobi Lund",
        role: "installer",
        prices: true,
        pin: false,
        ...more,
      } as Session["person"],
      ...session,
    });

  it("changes the password by the old one, and says at its field what is wrong", async () => {
    const wrong = refused(422, "That is not your password.", { password: "Type the old one." });
    const { user, written } = shown(<MePage />, {
      "GET /api/session": seated(),
      "PUT /api/session/password": wrong,
    });
    const part = within(await screen.findByRole("region", { name: "Password" }));
    await user.type(part.getByLabelText("Old password"), "old");
    await user.type(part.getByLabelText("New password"), "long enough");
    await user.type(part.getByLabelText("Once more"), "long enough");
    await user.click(part.getByRole("button", { name: "Change the password" }));
    expect(await part.findByText("Type the old one.")).toBeVisible();
    expect(written[0]?.body).toEqual({ old: "old", new: "long enough" });
  });

  it("takes digits only for a PIN, and says that it counts on enrolled devices only", async () => {
    const { user, written } = shown(<MePage />, {
      "GET /api/session": seated({ pin: true, prices: false }),
      "PUT /api/session/pin": seated({ pin: true }),
    });
    const part = within(await screen.findByRole("region", { name: "PIN" }));
    expect(screen.getByText(/installer, without prices/)).toBeVisible();
    expect(part.getByText(/This device is not enrolled\./)).toBeVisible();
    await user.type(part.getByLabelText("Password"), "mine");
    await user.type(part.getByLabelText("New PIN"), "4a0");
    expect(part.getByRole("button", { name: "Set the PIN" })).toBeDisabled();
    await user.type(part.getByLabelText("New PIN"), "71");
    await user.click(part.getByRole("button", { name: "Set the PIN" }));
    expect(await screen.findByText("Your PIN is set.")).toBeVisible();
    await user.type(part.getByLabelText("Password"), "mine");
    await user.click(part.getByRole("button", { name: "Take it away" }));
    expect(await screen.findByText("Your PIN is gone.")).toBeVisible();
    expect(written.map((one) => one.body)).toEqual([
      { password: "mine", pin: "4071" },
      { password: "mine", pin: null },
    ]);
  });

  it("has neither lock nor PIN at home", async () => {
    shown(<MePage />, { "GET /api/session": seated({}, { home: true }) });
    expect(await screen.findByText("Tobi Lund")).toBeVisible();
    expect(screen.queryByRole("button", { name: "Lock this screen" })).toBeNull();
    expect(screen.queryByRole("region", { name: "PIN" })).toBeNull();
    expect(screen.queryByLabelText("Old password")).toBeNull();
  });
});

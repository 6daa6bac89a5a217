import { cleanup, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Job } from "../../../api/client";
import { LEAD, refused, session, shown, type Answers } from "../../../test/shown";
import { jobQuery } from "../queries";
import { Deeds } from "./Deeds";

const next = (deed: string, more: object = {}) => ({
  deed,
  reason_asked: false,
  roles: ["owner", "lead", "installer"],
  bays: [],
  ...more,
});
const STEP_BACK = next("step_back", { reason_asked: true, roles: ["owner", "lead"] });

const job = (more: object = {}) =>
  ({
    id: "j1",
    version: 3,
    status: "in_bay",
    bay: "Bay 1",
    deeds: [{ deed: "start", state: "in_bay", at: "2026-11-10T09:00:00Z", person: "Tobi Lund", reason: "" }],
    next_deeds: [next("pause"), next("finish"), STEP_BACK],
    ...more,
  }) as unknown as Job;

function deeds(of: Job, more: Answers = {}) {
  const made = shown(<Deeds job={of} />, { "GET /api/session": session(), ...more });
  made.client.setQueryData(jobQuery("j1").queryKey, of);
  return made;
}

describe("what is done with a job as a whole", () => {
  it("says where it stands, and does what makes sense now", async () => {
    const { user, written } = deeds(job(), {
      "POST /api/jobs/j1/deeds": job({ version: 4, status: "paused" }),
    });
    expect(await screen.findByLabelText("Where the job stands")).toHaveTextContent("in Bay 1");
    expect(screen.getByRole("link", { name: "Deliver" })).toHaveAttribute("href", "/jobs/j1/handover");
    await user.click(await screen.findByRole("button", { name: "Pause" }));
    await waitFor(() => expect(written).toHaveLength(1));
    expect(written[0]?.body).toEqual({ version: 3, deed: "pause", reason: "", bay: "" });
  });

  it("asks why a step is taken back, says what it undoes, and keeps a refusal in sight", async () => {
    let answer: object = refused(422, "Say why.", { reason: "Cannot be empty." });
    const { user, written } = deeds(job(), { "POST /api/jobs/j1/deeds": () => answer });
    await user.click(await screen.findByRole("button", { name: /^More/ }));
    await user.click(await screen.findByRole("menuitem", { name: "Back one step" }));
    expect(await screen.findByText("“Start” by Tobi Lund is undone. It stays on record.")).toBeVisible();
    expect(screen.getByRole("button", { name: "Go back" })).toBeDisabled();
    await user.type(screen.getByLabelText("Why"), "Wrong car");
    await user.click(screen.getByRole("button", { name: "Go back" }));
    expect(await screen.findByText("Say why.")).toBeVisible();
    answer = job({ version: 4, status: "arrived" });
    await user.click(screen.getByRole("button", { name: "Go back" }));
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    expect(written.at(-1)?.body).toEqual({ version: 3, deed: "step_back", reason: "Wrong car", bay: "" });
  });

  it("asks in which bay it starts where there are several", async () => {
    const here = job({
      status: "paused",
      next_deeds: [next("start", { bays: ["Bay 1", "Bay 2"] })],
    });
    const { user, written } = deeds(here, { "POST /api/jobs/j1/deeds": job({ version: 4 }) });
    await user.click(await screen.findByRole("button", { name: /^Go on/ }));
    await user.click(await screen.findByRole("menuitem", { name: "In Bay 2" }));
    await waitFor(() => expect(written).toHaveLength(1));
    expect(written[0]?.body).toEqual({ version: 3, deed: "start", reason: "", bay: "Bay 2" });
  });

  it("offers to each what is his to do, and no file to who sees no prices", async () => {
    deeds(job(), { "GET /api/session": session({ ...LEAD, role: "counter", prices: false }) });
    expect(await screen.findByRole("link", { name: "Deliver" })).toBeVisible();
    await screen.findByRole("button", { name: /^More/ });
    expect(screen.queryByRole("button", { name: "Pause" })).toBeNull();
    cleanup();
    deeds(job({ status: "delivered", next_deeds: [STEP_BACK] }), {
      "GET /api/session": session({ ...LEAD, role: "installer", prices: false }),
    });
    expect(await screen.findByLabelText("Where the job stands")).toHaveTextContent("delivered");
    expect(screen.queryByRole("button", { name: /^More/ })).toBeNull();
    expect(screen.queryByRole("link", { name: "Deliver" })).toBeNull();
  });
});

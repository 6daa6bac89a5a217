import { cleanup, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { JobBrief } from "../../api/client";
import { LEAD, refused, session, shown, type Answers } from "../../test/shown";
import { JobsPage } from "./JobsPage";

const job = (id: string, number: number, more: Partial<JobBrief> = {}): JobBrief => ({
  id,
  number,
  title: "Fenwick 4, all round",
  customer: "R. Vale",
  vehicle_label: "Fenwick 4 sedan",
  status: "booked",
  bay: "",
  band: [],
  filmed: 0,
  measured: 4,
  windows: 6,
  problems: [],
  promised_at: null,
  states: ["TX"],
  stuck: false,
  version: 3,
  worst: null,
  ...more,
});
const list = (...jobs: JobBrief[]) => ({ jobs, total: jobs.length, page: 1, pages: 1 });
const PAGE = { at: "/jobs", path: "/jobs" };

describe("the jobs", () => {
  it("says how to begin, and what a search found nothing of", async () => {
    const { user } = shown(<JobsPage />, { "GET /api/session": session(), "GET /api/jobs": list() }, PAGE);
    expect(await screen.findByText("No job yet. Start with the car that stands outside.")).toBeVisible();
    await user.type(screen.getByLabelText("Search"), "zebra");
    expect(
      await screen.findByText("No job has “zebra” in its number, title, car or customer."),
    ).toBeVisible();
  });

  it("archives a job with its version once asked, and brings it back by the version of that", async () => {
    const answers: Answers = {
      "GET /api/session": session(),
      "GET /api/jobs": list(job("j1", 1001)),
      "POST /api/jobs/j1/remove": { ...job("j1", 1001), version: 4 },
      "POST /api/jobs/j1/restore": { ...job("j1", 1001), version: 5 },
    };
    const { user, written } = shown(<JobsPage />, answers, PAGE);
    await user.click(await screen.findByRole("button", { name: "Archive Fenwick 4, all round" }));
    await user.click(screen.getByRole("button", { name: "Keep it" }));
    expect(written).toEqual([]);
    await user.click(screen.getByRole("button", { name: "Archive Fenwick 4, all round" }));
    await user.click(screen.getByRole("button", { name: "Archive" }));
    expect(await screen.findByText("Fenwick 4, all round is archived.")).toBeVisible();
    await user.click(screen.getByRole("button", { name: "Undo" }));
    await waitFor(() => expect(written).toHaveLength(2));
    expect(written.map((one) => [one.to, (one.body as { version: number }).version])).toEqual([
      ["POST /api/jobs/j1/remove", 3],
      ["POST /api/jobs/j1/restore", 4],
    ]);
  });

  it("shows what is archived, and restores it", async () => {
    const { user, written, router } = shown(
      <JobsPage />,
      {
        "GET /api/session": session(),
        "GET /api/jobs": list(job("j1", 1001)),
        "POST /api/jobs/j1/restore": { ...job("j1", 1001), version: 4 },
      },
      PAGE,
    );
    await user.click(await screen.findByRole("button", { name: "Archived" }));
    expect(await screen.findByText("Archived jobs")).toBeVisible();
    expect(router.state.location.search).toBe("?archived=1");
    await user.click(await screen.findByRole("button", { name: "Restore Fenwick 4, all round" }));
    expect(await screen.findByText("Fenwick 4, all round is back.")).toBeVisible();
    expect(written.map((one) => one.to)).toEqual(["POST /api/jobs/j1/restore"]);
  });

  it("offers no archive for a delivered car, nor to who does not lead", async () => {
    const delivered = job("j2", 1002, { status: "delivered", title: "Morrow SUV" });
    const answers = {
      "GET /api/session": session(),
      "GET /api/jobs": list(job("j1", 1001), delivered),
    };
    shown(<JobsPage />, answers, PAGE);
    expect(await screen.findByRole("button", { name: "Archive Fenwick 4, all round" })).toBeVisible();
    expect(screen.queryByRole("button", { name: "Archive Morrow SUV" })).toBeNull();
    cleanup();
    shown(<JobsPage />, { ...answers, "GET /api/session": session({ ...LEAD, role: "learner" }) }, PAGE);
    expect(await screen.findByText("Morrow SUV")).toBeVisible();
    expect(screen.queryByRole("button", { name: "Archive Fenwick 4, all round" })).toBeNull();
  });

  it("says why a job cannot be archived", async () => {
    const { user } = shown(
      <JobsPage />,
      {
        "GET /api/session": session(),
        "GET /api/jobs": list(job("j1", 1001)),
        "POST /api/jobs/j1/remove": refused(422, "Its film is cut: take the cut back first."),
      },
      PAGE,
    );
    await user.click(await screen.findByRole("button", { name: "Archive Fenwick 4, all round" }));
    await user.click(screen.getByRole("button", { name: "Archive" }));
    expect(await screen.findByText("Its film is cut: take the cut back first.")).toBeVisible();
    expect(screen.queryByRole("button", { name: "Undo" })).toBeNull();
  });

  it("opens a job file, or says what is wrong with it and stays", async () => {
    let answer: object = refused(422, "This is no job file: it begins with “hello”.");
    const { user, router } = shown(
      <JobsPage />,
      { "GET /api/session": session(), "GET /api/jobs": list(), "POST /api/jobs/import": () => answer },
      PAGE,
    );
    const field = await screen.findByLabelText("Job file");
    await user.upload(field, new File(["{}"], "job.json", { type: "application/json" }));
    expect(await screen.findByText("This is no job file: it begins with “hello”.")).toBeVisible();
    answer = job("j9", 1010);
    await user.upload(field, new File(["{}"], "job.json", { type: "application/json" }));
    await waitFor(() => expect(router.state.location.pathname).toBe("/jobs/j9"));
  });

  it("counts the jobs of a long list and turns its pages in the address", async () => {
    const long = { jobs: [job("j1", 1001)], total: 412, page: 1, pages: 21 };
    const { user, router } = shown(<JobsPage />, { "GET /api/jobs": long }, PAGE);
    expect(await screen.findByText("412 jobs")).toBeVisible();
    await user.click(screen.getByRole("button", { name: "Go to page 21" }));
    expect(router.state.location.search).toBe("?page=21");
  });
});

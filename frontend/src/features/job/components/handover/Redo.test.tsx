import { screen, waitFor } from "@testing-library/react";
import { expect, it } from "vitest";
import type { Job } from "../../../../api/client";
import { shown } from "../../../../test/shown";
import { Redo, RedoOf } from "./Redo";

const window = (id: string, label: string, film_id: string | null) => ({ id, label, film_id });
const job = {
  id: "j1",
  redone_in: [{ id: "j5", number: 1005 }],
  redo_of: null,
  windows: [
    window("a", "Driver front", "f1"),
    window("b", "Back glass", "f1"),
    window("c", "Windshield", null),
  ],
} as unknown as Job;

it("makes a job of its own for the windows that are chosen, and goes there", async () => {
  const { user, written, router } = shown(<Redo job={job} />, {
    "POST /api/jobs/j1/redo": { ...job, id: "j9" },
  });
  expect(screen.getByRole("link", { name: "job 1005" })).toHaveAttribute("href", "/jobs/j5/survey");
  expect(screen.queryByRole("checkbox", { name: "Windshield" })).toBeNull();
  expect(screen.getByRole("button", { name: "New job to redo it" })).toBeDisabled();
  await user.click(screen.getByRole("checkbox", { name: "Driver front" }));
  await user.click(screen.getByRole("checkbox", { name: "Back glass" }));
  await user.click(screen.getByRole("button", { name: "New job to redo 2 windows" }));
  await waitFor(() => expect(router.state.location.pathname).toBe("/jobs/j9/survey"));
  expect(written[0]?.body).toEqual({ windows: ["a", "b"] });
});

it("says on the job that mends which one it is about", () => {
  shown(<RedoOf job={{ ...job, redo_of: { id: "j1", number: 975 } }} />, {});
  expect(screen.getByRole("link", { name: "job 975" })).toHaveAttribute("href", "/jobs/j1/handover");
});

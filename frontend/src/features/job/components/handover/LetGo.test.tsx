import { screen, waitFor } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { Job, JobWindow } from "../../../../api/client";
import { refused, shown } from "../../../../test/shown";
import { LetGo } from "./LetGo";

const REST = [
  { id: "w1", label: "Driver rear", version: 3 },
  { id: "w2", label: "Back glass", version: 5 },
] as JobWindow[];
const JOB = { id: "j1", windows: REST } as Job;
const PATH = "POST /api/jobs/j1/handover/let-go";

describe("what a lead lets go", () => {
  it("asks which windows and why each; the reason of the last one is there for the next", async () => {
    const closed = vi.fn();
    const { user, written } = shown(<LetGo job={JOB} windows={REST} onClose={closed} />, { [PATH]: {} });
    expect(screen.getByRole("button", { name: "Let it go" })).toBeDisabled();
    await user.click(screen.getByRole("checkbox", { name: "Driver rear" }));
    await user.type(screen.getByLabelText("Why Driver rear is left out"), "Wants it back");
    await user.click(screen.getByRole("checkbox", { name: "Back glass" }));
    expect(screen.getByLabelText("Why Back glass is left out")).toHaveValue("Wants it back");
    await user.click(screen.getByRole("button", { name: "Let these 2 go" }));
    await waitFor(() => expect(closed).toHaveBeenCalledOnce());
    expect(written[0]?.body).toEqual({
      windows: [
        { window_id: "w1", version: 3, reason: "Wants it back" },
        { window_id: "w2", version: 5, reason: "Wants it back" },
      ],
    });
  });

  it("keeps what was typed where it is refused, and says why", async () => {
    const closed = vi.fn();
    const { user } = shown(<LetGo job={JOB} windows={REST.slice(0, 1)} onClose={closed} />, {
      [PATH]: refused(422, "Nothing would be left on this car.", {}),
    });
    await user.type(screen.getByLabelText("Why Driver rear is left out"), "Too late");
    await user.click(screen.getByRole("button", { name: "Let it go" }));
    expect(await screen.findByText("Nothing would be left on this car.")).toBeVisible();
    expect(screen.getByLabelText("Why Driver rear is left out")).toHaveValue("Too late");
    expect(closed).not.toHaveBeenCalled();
  });
});

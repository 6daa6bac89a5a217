import { screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { Job, JobWindow } from "../../../../api/client";
import { shown } from "../../../../test/shown";
import type { Run } from "../../logic/bay";
import { Scrap } from "./Scrap";

const JOB = { id: "j1" } as Job;
const REAR = { id: "w1", label: "Driver rear" } as JobWindow;

describe("a spoilt piece that nobody booked", () => {
  it("asks what it was: a piece to be booked at Cut, or no film off the rack", async () => {
    const happens = vi.fn();
    const run = { scrap: ["e1", "e2"] } as Run;
    const { user } = shown(<Scrap job={JOB} window={REAR} run={run} happens={happens} />, {});
    expect(screen.getByRole("status")).toHaveTextContent("No film is booked as cut for Driver rear");
    expect(screen.getByRole("link", { name: "Its piece: book the cut" })).toHaveAttribute(
      "href",
      "/jobs/j1/cut?w=w1",
    );
    await user.click(screen.getByRole("button", { name: "No film off the rack" }));
    expect(happens).toHaveBeenCalledExactlyOnceWith({ kind: "no_film", window_id: "w1", event: "e1" });
  });

  it("asks nothing where all scrap is settled", () => {
    shown(<Scrap job={JOB} window={REAR} run={{ scrap: [] as string[] } as Run} happens={vi.fn()} />, {});
    expect(screen.queryByRole("status")).toBeNull();
  });
});

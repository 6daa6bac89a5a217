import { screen, waitFor } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { Job } from "../../../../api/client";
import { shown } from "../../../../test/shown";
import { jobQuery } from "../../queries";
import { AddGlass } from "./AddGlass";

const job = (...windows: string[]) => ({ id: "j1", windows: windows.map((id) => ({ id })) }) as Job;
const LISTS = { openings: [{ key: "three_part", label: "Rear window in three parts" }] };
const THREE = ["Rear window in three parts", "POST /api/jobs/j1/openings"] as const;
const ONE = ["One more window", "POST /api/jobs/j1/windows"] as const;

describe("adding glass", () => {
  it.each([THREE, ONE])(
    "opens the first pane of “%s”, also where a window goes out first",
    async (item, path) => {
      const opened = vi.fn();
      const { user, client } = shown(<AddGlass job={job("w1", "w2", "rear")} onSelect={opened} />, {
        "GET /api/pick-lists": LISTS,
        [path]: job("w1", "w2", "n1", "n2", "n3"),
      });
      // The rear glass was taken out a moment ago; this screen does not show it yet.
      client.setQueryData(jobQuery("j1").queryKey, job("w1", "w2"));
      await user.click(screen.getByRole("button", { name: "Add glass" }));
      await user.click(await screen.findByRole("menuitem", { name: item }));
      await waitFor(() => expect(opened).toHaveBeenCalledExactlyOnceWith("n1"));
    },
  );
});

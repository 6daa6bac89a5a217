import { screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Job, JobWindow } from "../../../api/client";
import { refused, session, shown } from "../../../test/shown";
import { jobQuery } from "../queries";
import { ReasonForReading } from "./ReasonPanel";

const window = {
  id: "w1",
  version: 4,
  label: "Driver front",
  film_id: "dusk20",
  worst: "Clears",
  choices: [],
  verdicts: [],
  under_old_film: false,
  unmetered_percent: 0,
  darkest_clearing: null,
} as unknown as JobWindow;
const job = { id: "j1", version: 3, films: [], states: ["FL"], windows: [window] } as unknown as Job;

describe("a finished window that is too dark by the meter", () => {
  it("goes by a paper alone, and keeps a refusal beside its field", async () => {
    let answer: object = refused(422, "Where is the statement?", { document: "Where it is kept." });
    const { client, user, written } = shown(<ReasonForReading job={job} window={window} />, {
      "GET /api/session": session(),
      "POST /api/windows/w1/reason": () => answer,
    });
    client.setQueryData(jobQuery("j1").queryKey, job);
    await user.click(screen.getByRole("button", { name: "Give a reason" }));
    await user.click(screen.getByRole("combobox", { name: "Reason" }));
    expect(screen.getAllByRole("option")).toHaveLength(2);
    await user.click(screen.getByRole("option", { name: /off-road/i }));
    await user.click(screen.getByRole("button", { name: "Give this reason" }));
    expect(await screen.findByText("Where it is kept.")).toBeVisible();
    await user.type(screen.getByLabelText("Where the owner’s statement is kept"), "Folder 7");
    answer = job;
    await user.click(screen.getByRole("button", { name: "Give this reason" }));
    await waitFor(() => expect(written).toHaveLength(2));
    expect(written[1]?.body).toMatchObject({
      version: 4,
      film_id: "dusk20",
      kind: "off_road_or_show",
      document: "Folder 7",
      change_to: null,
    });
  });
});

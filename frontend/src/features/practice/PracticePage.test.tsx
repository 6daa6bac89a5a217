import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { refused, shown, type Answers } from "../../test/shown";
import type { Learner, Lesson, Practice } from "./api";
import { PracticePage } from "./PracticePage";

const lesson = (key: string, title: string, more: Partial<Lesson> = {}): Lesson => ({
  key,
  title,
  film: "Harbor 35",
  percent: 0.8,
  word: "card",
  school: "wet",
  teaches: "",
  outline: [
    [-400, 0],
    [400, 0],
    [400, 300],
    [-400, 300],
  ],
  mine: { runs: 0, passes: 0, best: null },
  ...more,
});

const learner = (person_id: string, name: string, more: Partial<Learner> = {}): Learner => ({
  person_id,
  name,
  alone: [],
  shown: [],
  lessons: {},
  ...more,
});

const home = (more: Partial<Practice> = {}): Practice => ({
  headline: "Begin with the flat door",
  lessons: [
    lesson("flat-door", "Flat door", { mine: { runs: 3, passes: 1, best: 84 } }),
    lesson("round-quarter", "Round quarter", { school: "dry" }),
  ],
  learners: [],
  alone: [],
  alone_version: 4,
  runs: [],
  simplified: ["Film does not slide between cells."],
  today: null,
  today_version: 2,
  ...more,
});

const today = { job_id: "j1", window_id: "w7", title: "1001 Fenwick 4, back glass", note: "mind the dots" };
const PAGE = { at: "/practice", path: "/practice" };

describe("practice before a run", () => {
  let answers: Answers;
  beforeEach(() => {
    answers = { "GET /api/practice": home(), "POST /api/practice/runs": { id: "r1" } };
  });

  it("begins with the first lesson that is not passed", async () => {
    const { user, written, router } = shown(<PracticePage />, answers, PAGE);
    const first = await screen.findAllByRole("button", { name: "Begin" });
    await user.click(first[0] as HTMLElement);
    await waitFor(() => expect(router.state.location.pathname).toBe("/practice/r1"));
    expect(written[0]?.body).toEqual({ lesson: "round-quarter" });
  });

  it("says of each lesson what must go, how, and what one has made of it", async () => {
    shown(<PracticePage />, answers, PAGE);
    const passed = await screen.findByRole("article", { name: "Flat door" });
    expect(passed).toHaveTextContent("0.8 % must go (card), wet, on slip, Harbor 35");
    expect(passed).toHaveTextContent("3 runs, passed once, best 84 points");
    expect(within(passed).getByRole("button", { name: "Again" })).toBeVisible();
    expect(screen.getByRole("article", { name: "Round quarter" })).toHaveTextContent("dry, on a dryer sheet");
    expect(screen.getByRole("article", { name: "Round quarter" })).toHaveTextContent("Not tried yet");
    expect(screen.getByText("Film does not slide between cells.")).toBeVisible();
  });

  it("tells a learner what he may shrink alone, or that nobody has said so", async () => {
    const { client } = shown(<PracticePage />, answers, PAGE);
    expect(await screen.findByText(/The lead has not said yet what you may shrink alone/)).toBeVisible();
    client.setQueryData(["practice"], home({ alone: ["snap", "card"] }));
    expect(await screen.findByText("You may shrink alone: snap, card.")).toBeVisible();
  });

  it("lists runs with how they ended, and goes on with one that has not", async () => {
    const run = { id: "r1", title: "Flat door", lesson: "flat-door", headline: "", at: "", seconds: 131 };
    answers["GET /api/practice"] = home({
      runs: [
        { ...run, over: true, passed: false, points: 41 },
        { ...run, id: "r2", over: false, passed: false, points: null },
      ],
    });
    shown(<PracticePage />, answers, PAGE);
    const part = await screen.findByRole("region", { name: "Your runs" });
    const links = within(part).getAllByRole("link");
    expect(links.map((one) => one.getAttribute("href"))).toEqual(["/practice/r1", "/practice/r2"]);
    expect(links[0]).toHaveTextContent(/not passed, 41 · 2:11/);
    expect(links[1]).toHaveTextContent(/go on/);
  });

  it("shows a learner today's lesson with the lead's word, and nothing to change", async () => {
    answers["GET /api/practice"] = home({ today });
    shown(<PracticePage />, answers, PAGE);
    const part = await screen.findByRole("region", { name: "Today’s lesson" });
    expect(part).toHaveTextContent("mind the dots");
    expect(within(part).queryByRole("textbox")).toBeNull();
    expect(within(part).queryByRole("button", { name: "Take it back" })).toBeNull();
  });

  it("keeps the lead's word with today's lesson, and takes the lesson back", async () => {
    const learners = [learner("nils", "Nils Brandt")];
    answers["GET /api/practice"] = home({ today, learners });
    answers["PUT /api/practice/today"] = (sent) => {
      const { note, window_id } = sent.body as { note: string; window_id: string | null };
      return home({ learners, today: window_id ? { ...today, note } : null, today_version: 3 });
    };
    const { user, written } = shown(<PracticePage />, answers, PAGE);
    const field = await screen.findByLabelText("A word to the learners");
    expect(screen.queryByRole("button", { name: "Keep" })).toBeNull();
    await user.clear(field);
    await user.type(field, "the long side first");
    await user.click(screen.getByRole("button", { name: "Keep" }));
    await waitFor(() =>
      expect(screen.getByLabelText("A word to the learners")).toHaveValue("the long side first"),
    );
    await user.click(screen.getByRole("button", { name: "Take it back" }));
    await waitFor(() => expect(screen.queryByRole("region", { name: "Today’s lesson" })).toBeNull());
    expect(written.map((one) => one.body)).toEqual([
      { window_id: "w7", note: "the long side first", version: 2 },
      { window_id: null, note: "", version: 3 },
    ]);
  });

  it("keeps a word that the server refuses on the screen, with why", async () => {
    answers["GET /api/practice"] = home({ today, learners: [learner("nils", "Nils Brandt")] });
    answers["PUT /api/practice/today"] = refused(409, "Somebody changed today's lesson meanwhile.");
    const { user } = shown(<PracticePage />, answers, PAGE);
    await user.type(await screen.findByLabelText("A word to the learners"), "!");
    await user.click(screen.getByRole("button", { name: "Keep" }));
    expect(await screen.findByText("Somebody changed today's lesson meanwhile.")).toBeVisible();
    expect(screen.getByLabelText("A word to the learners")).toHaveValue("mind the dots!");
  });

  it("lets the lead say who may shrink what alone, beside what each has shown", async () => {
    const nils = learner("nils", "Nils Brandt", {
      shown: ["snap"],
      alone: ["snap"],
      lessons: {
        "flat-door": { runs: 4, passes: 2, best: 90 },
        "round-quarter": { runs: 1, passes: 0, best: 20 },
      },
    });
    answers["GET /api/practice"] = home({ learners: [nils] });
    answers["PUT /api/practice/people/nils/alone"] = home({
      learners: [{ ...nils, alone: ["snap", "hard"] }],
    });
    const { user, written } = shown(<PracticePage />, answers, PAGE);
    const row = await screen.findByRole("row", { name: /Nils Brandt/ });
    expect(
      within(row)
        .getAllByRole("cell")
        .map((cell) => cell.textContent)
        .slice(0, 2),
    ).toEqual(["snap", "5"]);
    await user.click(within(row).getByRole("checkbox", { name: "Hard alone, Nils Brandt: no" }));
    expect(await within(row).findByRole("checkbox", { name: "Hard alone, Nils Brandt: yes" })).toBeChecked();
    expect(written[0]?.body).toEqual({ words: ["snap", "hard"], version: 4 });
  });

  it("reads a run in from a file, or says why it cannot", async () => {
    let answer: object = refused(422, "This run was made by other rules; it can be shown, not gone on with.");
    answers["POST /api/practice/runs/read"] = () => answer;
    const { user, written, router } = shown(<PracticePage />, answers, PAGE);
    const field = await screen.findByLabelText("A run as a file");
    const file = new File(['{"rules": 0}'], "run.json", { type: "application/json" });
    await user.upload(field, file);
    expect(await screen.findByText(/This run was made by other rules/)).toBeVisible();
    answer = { id: "r5" };
    await user.upload(field, file);
    await waitFor(() => expect(router.state.location.pathname).toBe("/practice/r5"));
    expect(written[0]?.body).toEqual({ rules: 0 });
  });
});

import { expect, test } from "vitest";
import type { Question } from "../../api/client";
import { numberOf, onlyOnce, questionKey } from "./reply";

const mirrors: Question = {
  asks: "mirrors_both_sides",
  text: "Are there outside mirrors on both sides?",
  window_id: "",
  position: null,
  law_field: "",
  film_id: "",
  fact: "",
};

test.each([
  ["35", 0, 100, { value: 35 }],
  [" 71.5 % ", 0, 100, { value: 71.5 }],
  ["", 0, 100, {}],
  ["120", 0, 100, { wrong: "From 0 to 100" }],
  ["-1", 0, 100, { wrong: "From 0 to 100" }],
  ["dark", 0, 100, { wrong: "A number, such as 35" }],
  ["2021", 1900, 2100, { value: 2021 }],
])("takes %s between %d and %d for what it is", (text, low, high, found) => {
  expect(numberOf(text, low, high)).toEqual(found);
});

test("a question that two states raise is asked once, and two windows' questions are two", () => {
  const front = { ...mirrors, asks: "bare_vlt" as const, window_id: "df" };
  const rear = { ...front, window_id: "dr" };
  const asked = [mirrors, front, { ...mirrors, text: "worded otherwise" }, rear, front];
  expect(onlyOnce(asked, (one) => one)).toEqual([mirrors, front, rear]);
  expect(questionKey(front)).not.toBe(questionKey(rear));
});

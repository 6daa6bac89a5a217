import { expect, test } from "vitest";
import { draftOf, editorOf, valueOf } from "./values";

test.each([
  ["passenger.front_side", { kind: "floor", value: 35 }],
  ["multipurpose.rear_window", { kind: "no_floor" }],
  ["passenger.windshield.below_strip", { kind: "none_allowed" }],
  ["passenger.windshield.strip", "longer"],
  ["passenger.windshield.strip_inches", 5],
  ["multipurpose.windshield.strip_inches", null],
  ["reflectance.front_side", { kind: "numeric", percent: 20 }],
  ["tolerance_points", { kind: "granted", points: 3 }],
  ["banned_colours", ["amber", "red"]],
  ["mirrors_required_if_rear_tinted", null],
  ["mirrors_required_if_rear_tinted", false],
  ["readings.film_alone_reading", true],
  ["exemption.issued_until", "2011-08-31"],
  ["exemption.issued_until", ""],
  ["statute", "Code 1-2-3"],
])("%s comes back from its editor as it went in", (path, value) => {
  const editor = editorOf(path);
  expect(valueOf(editor, draftOf(editor, value))).toEqual(value);
});

test("a figure that is no number makes no value", () => {
  const editor = editorOf("passenger.front_side");
  expect(valueOf(editor, { choice: "floor", figure: "thirty" })).toBeUndefined();
  expect(valueOf(editor, { choice: "floor", figure: "" })).toBeUndefined();
});

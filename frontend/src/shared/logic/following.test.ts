import { expect, test } from "vitest";
import { following, followed } from "./following";

test("a field follows what is saved until something is typed", () => {
  expect(followed(following("71"), "72").text).toBe("72");
  const same = following("71");
  expect(followed(same, "71")).toBe(same);
});

test("an answer that arrives while somebody types leaves the typing alone", () => {
  const typing = { text: "71 72 70.5", basis: "", typing: true };
  const seen = followed(typing, "71 71.5 70.5");
  expect(seen.text).toBe("71 72 70.5");
  expect(followed(seen, "71 72 70.5")).toEqual(following("71 72 70.5"));
});

test("what was handed on gives way to the next answer", () => {
  const given = { text: "71,0", basis: "", typing: false };
  expect(followed(given, "71").text).toBe("71");
});

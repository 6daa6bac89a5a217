import { expect, it } from "vitest";
import { fittedWords } from "./fitted";

it("tells how a piece fitted", () => {
  expect(fittedWords({ word: "right", edge: "", by: "", person: "Ada" })).toBe("Fitted right, says Ada");
  expect(fittedWords({ word: "short", edge: "bottom", by: "1/4", person: "" })).toBe(
    "Came out short by 1/4 at the bottom",
  );
});

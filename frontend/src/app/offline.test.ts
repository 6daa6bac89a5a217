import { describe, expect, it } from "vitest";
import { isKept } from "./offline";

const query = (queryKey: unknown[], status = "success") => ({ queryKey, state: { status } }) as never;

describe("what is kept on the device", () => {
  it.each([[["session"]], [["bay", "j1", "h", "in"]], [["jobs", "one", "j1"]], [["strip-off", "j1", "h"]]])(
    "%j is",
    (key) => expect(isKept(query(key))).toBe(true),
  );
  it.each([
    [["people"]],
    [["keeping"]],
    [["jobs", "list", "", 1]],
    [["rack"]],
    [["day", "sheet", "2026-11-27"]],
    [[]],
  ])("%j is not", (key) => expect(isKept(query(key))).toBe(false));
  it("never what failed or has not come", () => {
    expect(isKept(query(["session"], "error"))).toBe(false);
    expect(isKept(query(["session"], "pending"))).toBe(false);
  });
});

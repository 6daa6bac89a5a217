import { describe, expect, it } from "vitest";
import { drafted, stillTyped } from "./draft";

interface Fields {
  name: string;
  phone: string;
  tags: readonly string[];
}
const saved: Fields = { name: "Rosa", phone: "1", tags: [] };

describe("a draft", () => {
  it("follows what is saved where nobody typed, and keeps what was typed", () => {
    const typed = { phone: "12" };
    expect(drafted(saved, typed)).toEqual({ name: "Rosa", phone: "12", tags: [] });
    expect(drafted({ ...saved, name: "Rosa Vale", phone: "9" }, typed)).toMatchObject({
      name: "Rosa Vale",
      phone: "12",
    });
  });

  it("is over once it is saved, but for what was typed meanwhile", () => {
    const tags = ["vip"];
    const sent = drafted(saved, { phone: "12", tags });
    expect(stillTyped({ phone: "12", tags }, sent)).toEqual({});
    expect(stillTyped({ phone: "123", tags }, sent)).toEqual({ phone: "123" });
    expect(stillTyped({ name: "" }, sent)).toEqual({ name: "" });
  });
});

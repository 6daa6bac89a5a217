import { beforeEach, expect, it } from "vitest";
import { hasFields, isBoolean, isCount, isListOf, isOneOf, isText, keepStored, readStored } from "./stored";

class Shelf implements Storage {
  private readonly kept = new Map<string, string>();
  get length() {
    return this.kept.size;
  }
  clear = () => this.kept.clear();
  getItem = (key: string) => this.kept.get(key) ?? null;
  key = (index: number) => [...this.kept.keys()][index] ?? null;
  removeItem = (key: string) => void this.kept.delete(key);
  setItem = (key: string, value: string) => void this.kept.set(key, value);
}

let shelf: Shelf;
beforeEach(() => {
  shelf = new Shelf();
});

const isPiece = hasFields({ width: isText, count: isCount, curved: isBoolean });

it("gives back what was kept", () => {
  const piece = { width: "39 3/8", count: 2, curved: true };
  keepStored(shelf, "p", [piece]);
  expect(readStored(shelf, "p", isListOf(isPiece), [])).toEqual([piece]);
});

it.each(["{", "null", "7", '[{"width": 3}]', '[{"width": "3", "count": 0, "curved": false}]', '"x"'])(
  "takes %s for nothing and throws it away",
  (text) => {
    shelf.setItem("p", text);
    expect(readStored(shelf, "p", isListOf(isPiece), [])).toEqual([]);
    expect(shelf.getItem("p")).toBeNull();
  },
);

it("knows one of several words", () => {
  const isUnit = isOneOf(["in", "mm"]);
  expect([isUnit("in"), isUnit("ft"), isUnit(3)]).toEqual([true, false, false]);
});

it("forgets silently where nothing can be kept", () => {
  shelf.setItem = () => {
    throw new Error("full");
  };
  keepStored(shelf, "p", 1);
  expect(readStored(shelf, "p", isCount, 5)).toBe(5);
});

import { screen } from "@testing-library/react";
import { expect, it, vi } from "vitest";
import { shown } from "../../test/shown";
import { Choice, Tick } from "../fields/Fields";
import { Locked } from "./Locked";

const why = "Delivered: this is how it was read.";
const fields = (changed: () => void) => (
  <>
    <Choice<"a" | "b">
      label="Glass"
      value="a"
      options={{ a: "tempered", b: "laminated" }}
      onChange={changed}
    />
    <Tick label="Old film" value onChange={changed} />
    <button onClick={changed}>Take out</button>
  </>
);

it("says why, shows what was, and lets nothing be changed", async () => {
  const changed = vi.fn();
  const { user } = shown(<Locked why={why}>{fields(changed)}</Locked>, {});
  expect(screen.getByRole("note")).toHaveTextContent(why);
  expect(screen.getByRole("combobox", { name: "Glass" })).toHaveTextContent("tempered");
  expect(screen.getByRole("combobox", { name: "Glass" })).toHaveAttribute("aria-disabled", "true");
  expect(screen.getByRole("checkbox", { name: "Old film" })).toBeDisabled();
  await user.click(screen.getByRole("button", { name: "Take out" }));
  expect(changed).not.toHaveBeenCalled();
});

it("is nothing at all while there is no reason", async () => {
  const changed = vi.fn();
  const { user } = shown(<Locked why={null}>{fields(changed)}</Locked>, {});
  expect(screen.queryByRole("note")).toBeNull();
  await user.click(screen.getByRole("button", { name: "Take out" }));
  expect(changed).toHaveBeenCalledOnce();
});

import { QueryClient, queryOptions } from "@tanstack/react-query";
import { describe, expect, it } from "vitest";
import { stands } from "./write";

/** A record with its version, looked at whenever the test says. */
function aLook() {
  const answers: ((version: number) => void)[] = [];
  const options = queryOptions({
    queryKey: ["record"],
    queryFn: () => new Promise<number>((resolve) => answers.push(resolve)),
    staleTime: 0,
  });
  return { answers, options };
}

describe("what a write answered", () => {
  it("is not covered by a look that set out before it and comes in after it", async () => {
    const { answers, options } = aLook();
    const client = new QueryClient();
    client.setQueryData(options.queryKey, 1);
    const look = client.query(options).catch(() => undefined);
    stands(client, options.queryKey, 2);
    expect(client.getQueryData(options.queryKey)).toBe(2);
    answers[0]?.(1);
    await look;
    expect(client.getQueryData(options.queryKey)).toBe(2);
    expect(client.isFetching()).toBe(0);
  });

  it("stands where nothing was known before", async () => {
    const { answers, options } = aLook();
    const client = new QueryClient();
    const look = client.query(options).catch(() => undefined);
    stands(client, options.queryKey, 2);
    answers[0]?.(1);
    await look;
    expect(client.getQueryData(options.queryKey)).toBe(2);
  });

  it("gives way to a look that sets out after it", async () => {
    const { answers, options } = aLook();
    const client = new QueryClient();
    stands(client, options.queryKey, 2);
    const look = client.query(options);
    answers[0]?.(3);
    await look;
    expect(client.getQueryData(options.queryKey)).toBe(3);
  });
});

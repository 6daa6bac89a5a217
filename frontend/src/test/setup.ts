import "@testing-library/jest-dom/vitest";
import { cleanup, configure } from "@testing-library/react";
import { afterEach } from "vitest";

/** Node's Request takes no address without a host; the application's have none. */
class LocalRequest extends Request {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    super(typeof input === "string" ? new URL(input, "http://shop.test") : input, init);
  }
}
globalThis.Request = LocalRequest;

/** A busy machine only makes it later. */
configure({ asyncUtilTimeout: 30_000 });

afterEach(cleanup);

import { defineConfig, mergeConfig } from "vitest/config";
import vite from "./vite.config.ts";

/** Logic is tested as it is; screens in a made-up document, with a made-up server. */
export default mergeConfig(
  vite,
  defineConfig({
    test: {
      maxWorkers: "100%", // one fewer than cores would be one of two
      isolate: false, // modules are loaded once a worker, as a browser loads them once a page
      projects: [
        { extends: true, test: { name: "logic", include: ["src/**/*.test.ts"], environment: "node" } },
        {
          extends: true,
          test: {
            name: "screens",
            include: ["src/**/*.test.tsx"],
            environment: "happy-dom",
            environmentOptions: { happyDOM: { url: "http://shop.test/" } },
            setupFiles: ["src/test/setup.ts"],
            testTimeout: 60_000,
          },
        },
      ],
    },
  }),
);

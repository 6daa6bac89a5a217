import react from "@vitejs/plugin-react";
import { VitePWA } from "vite-plugin-pwa";
import { defineConfig } from "vite";
import meta from "./package.json" with { type: "json" };

export default defineConfig({
  define: { __APP_VERSION__: JSON.stringify(meta.version) },
  plugins: [
    react(),
    // The pages are kept on the device, so that the bay goes on while the server is away. What the API answers is
    // kept elsewhere (src/app/offline.ts): a page that shows old data as new would lie.
    VitePWA({
      registerType: "prompt",
      injectRegister: null,
      manifest: {
        name: "Elumbra",
        short_name: "Elumbra",
        description: "Window film: plan, check, cut, fit.",
        start_url: "/",
        display: "standalone",
        background_color: "#ece6db",
        theme_color: "#ece6db",
        icons: [
          { src: "/mark.svg", sizes: "any", type: "image/svg+xml", purpose: "any" },
          { src: "/mark-192.png", sizes: "192x192", type: "image/png" },
          { src: "/mark-512.png", sizes: "512x512", type: "image/png" },
        ],
      },
      workbox: {
        globPatterns: ["**/*.{html,js,css,svg,png,woff2,webmanifest}"],
        maximumFileSizeToCacheInBytes: 6_000_000,
        navigateFallback: "/index.html",
        navigateFallbackDenylist: [/^\/api\//],
        // A new version waits until every page of the old one is closed or says that it may come.
        skipWaiting: false,
        clientsClaim: true,
        cleanupOutdatedCaches: true,
      },
    }),
  ],
  build: { target: "es2022", sourcemap: false, chunkSizeWarningLimit: 700 },
  server: { proxy: { "/api": "http://127.0.0.1:8420" } },
});

import react from "@vitejs/plugin-react";
import { readFileSync } from "node:fs";
import { VitePWA } from "vite-plugin-pwa";
import { defineConfig } from "vitest/config";

/** The API page works without a network: its parts are shipped beside the front end. */
const API_PAGE = ["swagger-ui.css", "swagger-ui-bundle.js", "swagger-ui-standalone-preset.js"];
const apiPage = {
  name: "api-page",
  generateBundle() {
    for (const name of API_PAGE)
      this.emitFile({
        type: "asset",
        fileName: `api-page/${name}`,
        source: readFileSync(`node_modules/swagger-ui-dist/${name}`),
      });
  },
} satisfies import("vite").Plugin;

/** A workshop's phone opens the app without the server, and may put it on its home screen. Registered only where people sign in. */
const phone = VitePWA({
  injectRegister: null,
  registerType: "autoUpdate",
  includeAssets: ["favicon.svg", "apple-touch-icon.png"],
  manifest: {
    id: "/",
    name: "Setback",
    short_name: "Setback",
    description: "Calibrate, test and qualify materials for resin printing",
    start_url: "/at-hand",
    display: "standalone",
    background_color: "#f4f2ed",
    theme_color: "#1c2333",
    icons: [
      { src: "/icon-192.png", sizes: "192x192", type: "image/png" },
      { src: "/icon-512.png", sizes: "512x512", type: "image/png" },
      { src: "/icon-maskable.png", sizes: "512x512", type: "image/png", purpose: "maskable" },
    ],
  },
  workbox: {
    globPatterns: ["**/*.{js,css,html,woff2}"],
    globIgnores: ["api-page/**"],
    navigateFallback: "/index.html",
    navigateFallbackDenylist: [/^\/api\//, /^\/api-page\//, /^\/reached\//],
    clientsClaim: true,
    skipWaiting: true,
    cleanupOutdatedCaches: true,
  },
});

export default defineConfig({
  plugins: [react(), apiPage, phone],
  build: { outDir: "../setback/web", emptyOutDir: true, chunkSizeWarningLimit: 600 },
  css: {
    preprocessorOptions: {
      scss: { quietDeps: true, silenceDeprecations: ["import", "global-builtin", "color-functions", "if-function"] },
    },
  },
  // The server takes what comes from the page under the name it was sent to.
  server: { proxy: { "/api": { target: "http://127.0.0.1:8350", changeOrigin: false } } },
  test: {
    include: ["src/**/*.test.{ts,tsx}"],
    environment: "happy-dom",
    setupFiles: ["src/testing.ts"],
    testTimeout: 120_000,
    hookTimeout: 120_000,
    // One window for each worker instead of one for each file; files stay apart.
    pool: "vmThreads",
    // One worker for each core of the machine that checks; the default leaves one idle.
    maxWorkers: 2,
  },
});

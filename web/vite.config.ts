import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  build: { outDir: "../setback/web", emptyOutDir: true, chunkSizeWarningLimit: 600 },
  css: { preprocessorOptions: { scss: { quietDeps: true, silenceDeprecations: ["import", "global-builtin", "color-functions", "if-function"] } } },
  server: { proxy: { "/api": "http://127.0.0.1:8350" } },
  test: { include: ["src/**/*.test.ts"] },
});

import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

// The build lands in the Python package, which serves it; in development the API runs beside it.
export default defineConfig({
  plugins: [react()],
  build: { outDir: "../src/keen_sweep/web", emptyOutDir: true, chunkSizeWarningLimit: 2000 },
  server: {
    proxy: {
      // The server answers pages of its own only: this one is.
      "/api": {
        target: "http://127.0.0.1:8420",
        changeOrigin: true,
        headers: { origin: "http://127.0.0.1:8420" },
      },
    },
  },
  test: {
    // However busy the machine is: what hangs is told all the same.
    testTimeout: 60_000,
    hookTimeout: 60_000,
    projects: [
      { extends: true, test: { name: "rules", include: ["src/**/*.test.ts"] } },
      {
        extends: true,
        // What components are made of is loaded once, not for each file.
        test: {
          name: "components",
          include: ["src/**/*.test.tsx"],
          environment: "happy-dom",
          setupFiles: ["src/testing/setup.ts"],
          isolate: false,
        },
      },
    ],
  },
});

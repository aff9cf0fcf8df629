import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { outDir: "dist", chunkSizeWarningLimit: 900, license: { fileName: "licences-pages.md" } },
  server: { proxy: { "/api": "http://127.0.0.1:7340" } },
  // Each file cleans up after itself, so that they can share what takes longest to load.
  test: { environment: "jsdom", isolate: false, include: ["src/**/*.test.{ts,tsx}"], testTimeout: 60_000 },
});

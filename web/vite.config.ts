import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { manual } from "./manual.plugin";

export default defineConfig({
  plugins: [react(), manual()],
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 700 },
  css: { preprocessorOptions: { scss: { quietDeps: true, silenceDeprecations: ["import"] } } },
  // To the server a page of its own asks.
  server: {
    proxy: {
      "/api": {
        target: "http://127.0.0.1:7239",
        changeOrigin: true,
        headers: { origin: "http://127.0.0.1:7239" },
      },
    },
  },
});

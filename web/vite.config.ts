import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { manual } from "./manual.plugin.ts";

// Bootstrap's rule for what follows any legend makes browsers style all of a list anew whenever a row of it comes or goes.
const withoutLegends = {
  postcssPlugin: "without-legends",
  Rule: (rule: { selector: string; remove: () => unknown }) => {
    if (rule.selector === "legend + *") rule.remove();
  },
};

export default defineConfig({
  plugins: [react(), manual()],
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 700 },
  css: {
    preprocessorOptions: { scss: { quietDeps: true, silenceDeprecations: ["import"] } },
    postcss: { plugins: [withoutLegends] },
  },
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

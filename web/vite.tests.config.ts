import { defineConfig } from "vite";
import { manual } from "./manual.plugin.ts";

/** The helpers of the pages, bundled for Node: a test of the service asks them over a pipe. */
export default defineConfig({
  plugins: [manual()],
  build: { ssr: "tests/pipe.ts", outDir: "node_modules/.tests", emptyOutDir: true },
  ssr: { noExternal: true },
});

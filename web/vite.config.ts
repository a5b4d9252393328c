import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { extname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

const outDir = fileURLToPath(new URL("../src/Kinetra.Server/wwwroot", import.meta.url));

// Beside each file that gains by it: so the server compresses nothing while it plays.
function compressed(): Plugin {
  return {
    name: "compressed",
    apply: "build",
    closeBundle() {
      for (const name of readdirSync(outDir, { recursive: true, encoding: "utf8" })) {
        if (![".js", ".css", ".html", ".svg", ".json"].includes(extname(name))) continue;
        const path = join(outDir, name);
        const bytes = readFileSync(path);
        writeFileSync(`${path}.gz`, gzipSync(bytes, { level: 9 }));
        const best = { params: { [constants.BROTLI_PARAM_QUALITY]: constants.BROTLI_MAX_QUALITY } };
        writeFileSync(`${path}.br`, brotliCompressSync(bytes, best));
      }
    },
  };
}

export default defineConfig({
  plugins: [react(), tailwindcss(), compressed()],
  resolve: { alias: { "@": fileURLToPath(new URL("./src", import.meta.url)) } },
  build: {
    outDir,
    emptyOutDir: true,
    target: "es2023",
    modulePreload: { polyfill: false },
    assetsInlineLimit: 0,
    // The second screen has a page of its own, which holds what a device is given and nothing else.
    rollupOptions: { input: ["index.html", "second.html"] },
  },
  worker: { format: "es" },
});

import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: {
    outDir: "../src/Kinetra.Server/wwwroot",
    emptyOutDir: true,
    target: "es2023",
    modulePreload: { polyfill: false },
    assetsInlineLimit: 0,
  },
  worker: { format: "es" },
});

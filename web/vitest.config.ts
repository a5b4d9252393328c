import { playwright } from "@vitest/browser-playwright";
import { mergeConfig } from "vite";
import { defineConfig } from "vitest/config";
import base from "./vite.config.ts";

// Rules and clocks run in Node.js; what is drawn, focused and pressed runs in Debian's Chromium.
export default mergeConfig(
  base,
  defineConfig({
    test: {
      // Simulated minutes of sound take as long as the machine needs: a slow one is no failure.
      testTimeout: 60_000,
      projects: [
        { extends: true, test: { name: "node", include: ["src/**/*.test.ts"], environment: "node" } },
        {
          extends: true,
          // Known before the first test: one that is found late would load the page anew in its midst.
          optimizeDeps: {
            include: [
              "@microsoft/signalr",
              "@tanstack/react-query",
              "lucide-react",
              "openapi-fetch",
              "radix-ui",
              "react-dom/client",
              "vitest-browser-react",
              "wouter/use-browser-location",
              "zustand",
            ],
          },
          test: {
            name: "browser",
            include: ["src/**/*.test.tsx"],
            browser: {
              enabled: true,
              headless: true,
              screenshotFailures: false,
              provider: playwright({
                launchOptions: { executablePath: "/usr/bin/chromium", args: ["--no-sandbox"] },
              }),
              instances: [{ browser: "chromium" }],
            },
          },
        },
      ],
    },
  }),
);

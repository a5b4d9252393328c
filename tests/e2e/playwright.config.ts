import { defineConfig } from "@playwright/test";
import { browserArgs } from "./support/browser.ts";

// What goes by real sound in real time, and has the machine to itself.
const sound = ["listen.spec.ts", "microphone.spec.ts"];

export default defineConfig({
  testDir: ".",
  projects: [
    { name: "still", testIgnore: sound },
    // The whole browser, with all that plays in it.
    {
      name: "sound",
      testMatch: sound,
      use: { launchOptions: { executablePath: "/usr/bin/chromium", args: browserArgs } },
    },
  ],
  fullyParallel: true,
  workers: 2,
  retries: 0,
  timeout: 240_000,
  expect: { timeout: 40_000 },
  use: {
    viewport: { width: 1280, height: 800 },
    colorScheme: "dark",
    launchOptions: {
      executablePath: "/usr/bin/chromium-headless-shell",
      args: browserArgs,
    },
  },
});

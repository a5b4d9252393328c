import { defineConfig } from "@playwright/test";
import tests from "./playwright.config.ts";

export default defineConfig({
  ...tests,
  projects: undefined,
  testMatch: "latency.ts",
  fullyParallel: false,
  workers: 1,
  timeout: 240_000,
});

import { defineConfig } from "@playwright/test";
import tests from "./playwright.config.ts";

export default defineConfig({ ...tests, projects: undefined, testMatch: "shots.ts", fullyParallel: false, workers: 1 });

import { defineConfig } from "@playwright/test";
import tests from "./playwright.config.ts";

export default defineConfig({ ...tests, projects: undefined, testMatch: "look.tmp.ts", fullyParallel: false, workers: 1 });

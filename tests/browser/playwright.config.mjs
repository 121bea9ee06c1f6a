import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { defineConfig } from "@playwright/test";
import { launchOptions } from "./browser.mjs";

const port = 5391;
process.env.ALLOWANCE_TEST_DATA ??= mkdtempSync(join(tmpdir(), "allowance-browser-"));

// The published application with the demonstration; tests share it, one after another.
export default defineConfig({
  testDir: ".",
  workers: 1,
  timeout: 60_000,
  // A busy machine may be slow to hand a key on; a test that fails twice has failed.
  retries: process.env.CI ? 1 : 0,
  reporter: [["list"]],
  use: { baseURL: `http://localhost:${port}`, launchOptions, locale: "en-GB" },
  projects: [
    { name: "laptop", use: { viewport: { width: 1280, height: 800 } } },
    { name: "tablet", use: { viewport: { width: 820, height: 1180 }, hasTouch: true }, testMatch: /(screens|journey|knowing)\.spec\.mjs$/ },
    { name: "phone", use: { viewport: { width: 390, height: 844 }, hasTouch: true }, testMatch: /(screens|journey|knowing)\.spec\.mjs$/ },
  ],
  webServer: {
    command: `dotnet ../../.out/web/Allowance.Web.dll demo --port ${port} --data ${process.env.ALLOWANCE_TEST_DATA}`,
    url: `http://localhost:${port}/plaintext`,
    gracefulShutdown: { signal: "SIGTERM", timeout: 5_000 },
    stdout: "ignore",
  },
});

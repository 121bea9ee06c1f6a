import { defineConfig } from "@playwright/test";
import { launchOptions } from "./browser.mjs";

// What looks otherwise on a tablet, and on a phone.
const onTablets = /tables\.spec\.mjs$/, onPhones = /(bench|screens|journey|knowing|tables|week)\.spec\.mjs$/;

// The published application with the demonstration, one for each worker; the tests of a file share it, one after another.
export default defineConfig({
  testDir: ".",
  globalSetup: "./demonstration.mjs",
  workers: 2,
  timeout: 90_000,
  // A busy machine may be slow to hand a key on; a test that fails twice has failed.
  retries: process.env.CI ? 1 : 0,
  reporter: [["list"]],
  use: { launchOptions, locale: "en-GB" },
  projects: [
    { name: "laptop", use: { viewport: { width: 1280, height: 800 } } },
    { name: "tablet", use: { viewport: { width: 820, height: 1180 }, hasTouch: true }, testMatch: onTablets },
    { name: "phone", use: { viewport: { width: 390, height: 844 }, hasTouch: true }, testMatch: onPhones },
  ],
});

import { existsSync } from "node:fs";

// How the tests and the screenshots start Debian's Chromium: without a network of its own, and where it is there without a window.
const debian = ["/usr/bin/chromium-headless-shell", "/usr/bin/chromium"];

export const launchOptions = {
  executablePath: process.env.ALLOWANCE_CHROMIUM ?? debian.find(existsSync),
  args: ["--no-sandbox", "--disable-gpu", "--disable-quic", "--disable-dev-shm-usage", "--disable-background-networking", "--disable-component-update", "--disable-sync"],
};

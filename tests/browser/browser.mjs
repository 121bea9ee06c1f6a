// How the tests and the screenshots start Debian's Chromium: without a network of its own.
export const launchOptions = {
  executablePath: process.env.ALLOWANCE_CHROMIUM ?? "/usr/bin/chromium",
  args: ["--no-sandbox", "--disable-gpu", "--disable-quic", "--disable-dev-shm-usage", "--disable-background-networking", "--disable-component-update", "--disable-sync"],
};

// Each worker has a house of its own: the published application with the demonstration, in a directory of its own.
import { spawn } from "node:child_process";
import { cpSync, mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { test as base } from "@playwright/test";

export { expect } from "@playwright/test";

const FIRST_PORT = 5400;

/** Starts the application; it is ready when it says where it is. */
export async function serve(command, port, data) {
  const server = spawn("dotnet", ["../../.out/web/Allowance.Web.dll", command, "--port", String(port), "--data", data], { stdio: ["ignore", "pipe", "inherit"] });
  const ready = new Promise((resolve, reject) => {
    let said = "";
    server.stdout.on("data", (text) => (said += text).includes("Allowance is at") && resolve());
    server.on("exit", (code) => reject(new Error(`the server ended with ${code}`)));
  });
  return { server, ready };
}

/** Pulls the plug. */
export async function kill(server) {
  server.removeAllListeners("exit");
  if (server.exitCode !== null || server.signalCode !== null) return;
  const gone = new Promise((resolve) => server.once("exit", resolve));
  server.kill("SIGKILL");
  await gone;
}

export const test = base.extend({
  house: [
    async ({}, use, worker) => {
      const port = FIRST_PORT + worker.parallelIndex;
      const data = mkdtempSync(join(tmpdir(), "allowance-browser-"));
      cpSync(process.env.DEMONSTRATION, data, { recursive: true });
      const { server, ready } = await serve("demo", port, data);
      await ready;
      await use(`http://localhost:${port}`);
      await kill(server);
    },
    { scope: "worker", auto: true, timeout: 120_000 },
  ],
  baseURL: async ({ house }, use) => use(house),
});

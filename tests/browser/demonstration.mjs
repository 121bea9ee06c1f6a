// The demonstration is made once, before all tests; each house begins with a copy of it.
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { serve } from "./house.mjs";

const PORT = 5399;

export default async function make() {
  const data = mkdtempSync(join(tmpdir(), "allowance-demonstration-"));
  const { server, ready } = await serve("demo", PORT, data);
  await ready;
  server.removeAllListeners("exit");
  const gone = new Promise((resolve) => server.once("exit", resolve));
  server.kill("SIGTERM");
  await gone;
  process.env.DEMONSTRATION = data;
  return () => rmSync(data, { recursive: true });
}

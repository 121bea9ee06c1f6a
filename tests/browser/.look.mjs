import { chromium } from "@playwright/test";
export const b = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox"] });
export async function shot(url, name, size=[1280,800], act) {
  const ctx = await b.newContext({ viewport: { width: size[0], height: size[1] } });
  const p = await ctx.newPage();
  await p.goto("http://127.0.0.1:5399" + url);
  if (act) await act(p);
  await p.waitForTimeout(400);
  await p.screenshot({ path: `/tmp/shots/${name}.png` });
  await ctx.close();
}

// node .look.mjs OUT WIDTHxHEIGHT game level players way [steps]
import { chromium } from "@playwright/test";
import { launchOptions } from "./browser.mjs";
const BASE = "http://localhost:5398";
export const lay = async (page, game, level, players, way, more = {}) => {
  await page.goto(BASE + "/table");
  const token = await page.evaluate(() => JSON.parse(document.body.getAttribute("hx-headers:inherited")).RequestVerificationToken);
  const form = { game, level, "bench.way": way, __RequestVerificationToken: token, ...more };
  for (let seat = 1; seat <= players; seat++) form[`s${seat}`] = ["3", "2", "1", "child"][seat - 1];
  const answer = await page.request.post(BASE + "/bench?handler=Play", { form, maxRedirects: 0 });
  return BASE + answer.headers().location;
};
export const start = async (width, height) => { const browser = await chromium.launch(launchOptions); const page = await browser.newPage({ viewport: { width, height } }); return { browser, page }; };
if (process.argv[1].endsWith(".look.mjs")) {
  const [out, size, ...jobs] = process.argv.slice(2);
  const [w, h] = size.split("x").map(Number);
  const { browser, page } = await start(w, h);
  let n = 0;
  for (const job of jobs) {
    const [game, level, players, way, steps] = job.split(",");
    await page.goto(await lay(page, game, level, Number(players), way), { waitUntil: "load" });
    for (const s of (steps ?? "").split("+").filter(Boolean)) { if (s.startsWith("#")) await page.locator(s).first().click(); else await page.keyboard.press(s); await page.waitForTimeout(250); }
    await page.screenshot({ path: `${out}-${n++}.png` });
  }
  await browser.close();
}

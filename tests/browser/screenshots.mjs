// Pictures of the main views, made from the demonstration: node screenshots.mjs DIRECTORY
import { spawn } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium } from "@playwright/test";
import { launchOptions } from "./browser.mjs";

const [directory] = process.argv.slice(2);
const port = 5393;
const base = `http://localhost:${port}`;
const server = spawn("dotnet", ["../../.out/web/Allowance.Web.dll", "demo", "--port", String(port), "--data", mkdtempSync(join(tmpdir(), "allowance-shots-"))], { stdio: ["ignore", "pipe", "ignore"] });
await new Promise((resolve) => server.stdout.on("data", (text) => String(text).includes("Allowance is at") && resolve()));

const browser = await chromium.launch(launchOptions);
try {
  await view("today", 1280, 800, async (page) => {
    // Once all games have been looked through.
    do await page.goto(`${base}/`);
    while (await page.getByText("still looking through all games").count());
  });
  await view("week", 1280, 800, async (page) => {
    await page.goto(`${base}/week`);
    await page.locator(".week-sitting").first().waitFor({ timeout: 60_000 });
  });
  await view("bench", 1280, 800, async (page) => page.goto(`${base}/bench?game=partners&level=spot&s1=3&s2=2&s2.target=8`));
  await view("shelf", 1280, 800, async (page) => page.goto(`${base}/shelf?s1=3&s2=2`));
  await view("table", 820, 1180, (page) => play(page, "on the screen", async () => takePair(page)));
  await view("table-notes", 390, 844, (page) => play(page, "just notes"));
  await view("glimpse", 820, 1180, async (page) => {
    await begin(page, "game=glimpse&s1=2&range=5-8&forms=ten-frame&showMs=5000&adaptive=no");
    await page.keyboard.press("v");
    await page.locator("[data-phase=picture]").waitFor();
  });
  await view("glimpses", 1280, 800, async (page) => page.goto(`${base}/glimpse`));
  await view("panes", 820, 1180, async (page) => begin(page, "game=panes&s1=2&s2=3"));
  await view("track", 1280, 800, async (page) => begin(page, "game=downline&s1=2&s2=3&s2.headStart=0&s1.headStart=3"));
  await view("rule-sheet", 1280, 800, async (page) => page.goto(`${base}/sheet?game=partners&level=spot&s1=2&s2=3`));
  await view("forms", 1280, 800, async (page) => page.goto(`${base}/guide/forms?picture=2`), "#dice");
  await view("growth", 1280, 800, async (page) => page.goto(`${base}/growth/2?cell=band-partners-5`));
  await view("growth-pictures", 1280, 800, async (page) => page.goto(`${base}/growth/2`), ".pair");
  await view("first-look", 820, 1180, async (page) => {
    await page.goto(`${base}/first-look/2`);
    await Promise.all([page.waitForEvent("load"), page.getByRole("button", { name: "Look again" }).click()]);
    for (let i = 0; i < 4; i++) {
      if (await page.locator(".look-picture").count()) break;
      await Promise.all([page.waitForEvent("load"), page.keyboard.press("a")]);
    }
  });
  await view("logbook", 1280, 800, async (page) => page.goto(`${base}/logbook`));
  await view("cupboard", 1280, 800, async (page) => page.goto(`${base}/cupboard`));
  await view("house", 1280, 800, async (page) => page.goto(`${base}/house`));
  await view("look", 1280, 800, async (page) => page.goto(`${base}/look`));
} finally {
  await browser.close();
  server.kill();
}

async function view(name, width, height, show, at = "body") {
  const page = await browser.newPage({ viewport: { width, height }, locale: "en-GB" });
  await show(page);
  await page.waitForLoadState("networkidle");
  await page.evaluate((to) => window.scrollTo(0, to === "body" ? 0 : document.querySelector(to).getBoundingClientRect().top + scrollY - 12), at);
  await page.screenshot({ path: join(directory, `${name}.png`) });
  await page.close();
}

// From the bench to the screen.
async function begin(page, query) {
  await page.goto(`${base}/bench?${query}`);
  const strip = page.locator("#forecast-strip > summary");
  if (await strip.isVisible()) await strip.click();
  await page.getByRole("button", { name: "on the screen" }).click();
  await page.waitForURL(/table/);
}

async function play(page, way, then = async () => {}) {
  await page.goto(`${base}/bench?game=partners&level=spot&form=dice&layout=3x4&s1=2&s2=3`);
  const strip = page.locator("#forecast-strip > summary");
  if (await strip.isVisible()) await strip.click();
  await page.getByRole("button", { name: way }).click();
  await page.locator(".turn").waitFor();
  await then();
}

// The cards show dice, so a pair is found by trying.
async function takePair(page) {
  for (let i = 0; i < 12; i++)
    for (let j = i + 1; j < 12; j++) {
      await page.locator(`#card-${i}`).click();
      await page.locator(`#card-${i}[aria-pressed=true]`).waitFor();
      await page.locator(`#card-${j}`).click();
      await page.locator(".message, .note-keys").first().waitFor();
      if (await page.locator(".note-keys").count()) return;
    }
}

import { readFileSync } from "node:fs";
import { expect, test } from "./house.mjs";

const games = [...readFileSync("../../docs/tables.md", "utf8").matchAll(/^# [^\n]*\(`(\w+)`\)/gm)].map((m) => m[1]);

const inView = (locator) => locator.evaluateAll((all) => all.filter((e) => {
  const box = e.getBoundingClientRect();
  return box.bottom > innerHeight + 1 || box.right > innerWidth + 1 || box.left < -1;
}).map((e) => e.className));

test("the first look at every game is in view, the table large, with one and with four", async ({ page }, info) => {
  test.skip(info.project.name !== "laptop", "elsewhere the forecast lies beneath");
  for (const [i, game] of games.entries()) {
    await page.goto(`/bench?game=${game}&s1=3` + (i % 2 === 1 ? "&s2=2&s3=1&s4=4" : ""), { waitUntil: "load" });
    expect(await inView(page.locator(".ladder a, .cloth, .knob, .place, .forecast")), game).toEqual([]);
    const share = await page.locator(".seen-from-above").evaluate((e) => (e.clientWidth * e.clientHeight) / innerWidth / innerHeight);
    expect(share, game).toBeGreaterThan(0.45);
    expect(await page.evaluate(() => document.documentElement.scrollWidth - innerWidth), game).toBeLessThanOrEqual(0);
  }
});

test("a thing is pressed and its knobs open beside it; easier is one press at the place; what moved is told", async ({ page }, info) => {
  test.skip(info.project.name === "tablet", "as on the others");
  await page.goto("/bench?game=downline&s1=3&s2=2");
  await page.locator("[data-zone=track] + foreignObject > a").click();
  await expect(page.getByRole("heading", { name: "The line", exact: true })).toBeVisible();
  await page.getByLabel("Sections").fill("30");
  await page.getByLabel("Sections").press("Tab");
  await expect(page).toHaveURL(/sections=30.*bench.open=line/);
  await page.locator("#panel-close").click();
  await expect(page.locator(".knob-panel")).toHaveCount(0);
  const easier = page.locator(".p2 .easier");
  await expect(easier).toBeVisible({ timeout: 20000 });
  const before = page.url();
  await easier.click();
  await expect(page).not.toHaveURL(before);
  if (info.project.name === "phone") await page.locator("#forecast-strip > summary").click();
  await expect(page.locator(".moved")).toContainText("Since the last setting");
});

test("by keyboard: a knob opens, closes again, and a step of the ladder is taken", async ({ page }, info) => {
  test.skip(info.project.name !== "laptop", "keys are those of a keyboard");
  await page.goto("/bench?game=gather&s1=2", { waitUntil: "networkidle" });
  await page.keyboard.press("d");
  await expect(page.locator("#thing-dice")).toHaveAttribute("aria-expanded", "true");
  await expect(page.locator("#thing-dice")).toBeFocused();
  await page.keyboard.press("Escape");
  await expect(page.locator(".knob-panel")).toHaveCount(0);
  await page.locator("#level-sign").focus();
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/level=sign/);
  await expect(page.locator("#level-sign")).toHaveAttribute("aria-current", "step");
  await expect(page.locator("#level-sign")).toBeFocused();
});

test("on a phone what is used daily lies in a row at the bottom, the rest behind one more", async ({ page }, info) => {
  test.skip(info.project.name !== "phone", "elsewhere all stand in a line at the top");
  await page.goto("/");
  const row = page.getByRole("navigation", { name: "Pages" });
  const box = await row.boundingBox();
  expect(box.y + box.height).toBeGreaterThanOrEqual(843);
  expect(await row.locator("> a").evaluateAll((all) => Math.min(...all.map((a) => a.getBoundingClientRect().height)))).toBeGreaterThanOrEqual(48);
  await row.locator("summary").click();
  await row.getByRole("link", { name: "Shelf" }).click();
  // What is typed is heard once the page has been read.
  await page.waitForURL(/\/shelf/);
  await page.getByLabel("Type to find").fill("no such game");
  await expect(page.locator("#shelf-games")).toContainText("None of the");
  await page.getByLabel("Type to find").fill("panes");
  await page.getByRole("link", { name: /^Nine Panes/ }).click();
  await expect(page).toHaveURL(/game=panes/);
});

test("dates are written as the household writes them", async ({ page }, info) => {
  test.skip(info.project.name !== "laptop", "once is enough");
  await page.goto("/house");
  await page.getByLabel("Dates are written").selectOption("YearMonthDay");
  await page.getByRole("button", { name: "Keep these" }).click();
  await page.goto("/logbook");
  await expect(page.locator("table").first()).toContainText(/\d{4}-\d{2}-\d{2}, \d\d:\d\d/);
  await page.goto("/house");
  await page.getByLabel("Dates are written").selectOption("DayMonthYear");
  await page.getByRole("button", { name: "Keep these" }).click();
});

import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "./house.mjs";

// Knowing the child: the first look, growth and its evidence, the logbook, typing in and bringing in.

async function axe(page) {
  const found = await new AxeBuilder({ page }).analyze();
  expect(found.violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html).slice(0, 3).join(" | ")}`)).toEqual([]);
  expect(await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)).toBeLessThanOrEqual(0);
}

test("a first look: begun, left, taken up again, undone, told", async ({ page }) => {
  await page.goto("/first-look/3");
  await page.getByRole("button", { name: /^(Begin|Look again)$/ }).click();
  const count = page.locator(".order");
  await expect(count).toContainText("1 of at most 12");
  await axe(page);
  for (const button of await page.locator(".note-keys button, .tools button").all()) expect((await button.boundingBox()).height).toBeGreaterThanOrEqual(48);
  await page.getByRole("button", { name: /^(saw it|right)$/ }).click();
  await expect(count).toContainText("2 of at most 12");
  await page.getByRole("button", { name: "not yet" }).click();
  await expect(count).toContainText("3 of at most 12");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(count).toContainText("2 of at most 12");
  await page.goto("/");
  await page.getByText("Mags’s first look was begun").getByRole("link").click();
  for (let n = 2; n <= 12; n++) {
    await expect(count).toContainText(`${n} of at most 12`);
    // The page is there before its script has come, which hears the keys.
    await page.waitForLoadState("load");
    await page.keyboard.press(n % 5 === 0 ? "g" : "a");
    if (n < 12) await expect(count).toContainText(`${n + 1} of at most 12`);
  }
  await expect(page.getByRole("heading", { name: "Three games to begin with" })).toBeVisible();
  await axe(page);
  await page.locator("#games + p a, #games ~ p a").first().click();
  await expect(page).toHaveURL(/\/bench\?game=/);
});

test("growth: a tile opens its evidence in place, a day shows how it was, a file is taken along", async ({ page }) => {
  await page.goto("/growth/2");
  const tile = page.getByRole("link", { name: /^parts that make a number to 5/ });
  await tile.focus();
  await page.keyboard.press("Enter");
  await expect(page.locator("#evidence")).toContainText("Parts that make a number, to 5");
  await page.getByRole("link", { name: /^3 as loose dots/ }).click();
  await expect(page.locator("#evidence")).toContainText("3 as loose dots");
  await page.locator("#day").fill(new Date(Date.now() - 60 * 86400_000).toISOString().slice(0, 10));
  await page.locator("#day").press("Enter");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("as it was on");
  await axe(page);
  const file = page.waitForEvent("download");
  await page.getByRole("link", { name: "CSV" }).click();
  expect((await file).suggestedFilename()).toMatch(/^growth-.*\.csv$/);
});

test("growth prints on one sheet", async ({ page, browserName }, info) => {
  test.skip(info.project.name !== "laptop" || browserName !== "chromium", "paper is the same from every screen");
  await page.goto("/growth/2", { waitUntil: "networkidle" });
  const pdf = await page.pdf({ format: "A4", margin: { top: "10mm", bottom: "10mm", left: "10mm", right: "10mm" } });
  expect(pdf.toString("latin1").match(/\/Type\s*\/Page[^s]/g)).toHaveLength(1);
});

test("a game is typed in, put right, and found again", async ({ page }, info) => {
  const name = `Reels ${info.project.name}`;
  await page.goto("/logbook");
  await page.getByRole("link", { name: "Type in a game" }).click();
  await page.getByLabel("Who").selectOption("Otis");
  await page.getByLabel("Game").fill(name);
  await page.getByLabel("Numbers").first().fill("5 9");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByRole("alert")).toContainText("Line 1");
  await axe(page);
  await page.getByLabel("Numbers").first().fill("5 1");
  await page.getByLabel("How she got there").first().selectOption("saw it");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText(name);
  await page.getByLabel("what was really seen").selectOption("counted on");
  await page.getByRole("button", { name: "Put right" }).click();
  await expect(page.getByText("put right below")).toBeVisible();
  await axe(page);
  await page.goto("/logbook");
  await page.getByRole("searchbox").fill(name);
  await page.getByRole("button", { name: "Find" }).click();
  await expect(page.locator("tbody tr")).toHaveCount(1);
  await page.getByText("Write a note in words").click();
  await page.getByLabel("What was seen").fill(`Lined them up <${name}>`);
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByText(`Lined them up <${name}>`)).toBeVisible();
});

test("a file of observations is shown before it is brought in", async ({ page }, info) => {
  const minute = { laptop: "01", tablet: "02", phone: "03" }[info.project.name];
  const lines = ["player,at,ask,outcome,right,seconds,source", `Otis,2026-01-05T10:${minute},part 6 2 numeral,5,,2.5,table`, "Otis,never,part 6 2 numeral,5,,,", `Stranger,2026-01-05T10:${minute},say 5 dice,,true,,`];
  await page.goto("/logbook/import");
  await page.setInputFiles("#file", { name: "notes.csv", mimeType: "text/csv", buffer: Buffer.from(lines.join("\n")) });
  await page.getByRole("button", { name: "Read it" }).click();
  await expect(page.getByText("2 lines can be read")).toBeVisible();
  await expect(page.getByText("is no time")).toBeVisible();
  await axe(page);
  await page.getByRole("button", { name: "Bring them in" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("A file of observations");
  await expect(page.locator("tbody tr")).toHaveCount(1);
});

test("Today follows who is here and the minutes", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("checkbox", { name: "Juno" }).uncheck();
  await expect(page.getByRole("heading", { name: "Juno" })).toHaveCount(0);
  await page.locator("#minutes").selectOption("5");
  await expect(page).toHaveURL(/minutes=5/);
  await expect(page.getByRole("heading", { name: "Otis" })).toBeVisible();
  await axe(page);
});

test("an aim is put first, set aside and taken back, by keyboard", async ({ page }) => {
  await page.goto("/growth/2");
  const ready = page.getByRole("region", { name: "Ready to grow" });
  const first = ready.locator(".aims > li").first();
  const name = (await first.locator("summary").getAttribute("aria-label")).replace("Change this aim: ", "");
  await first.locator("summary").focus();
  await page.keyboard.press("Enter");
  await first.getByRole("button", { name: "Set it aside" }).press("Enter");
  await expect(ready.getByText(`Set aside: ${name}`)).toBeVisible();
  await expect(ready.getByRole("group").filter({ hasText: name })).toHaveCount(0);
  await ready.getByRole("button", { name: `Take back: ${name}` }).press("Enter");
  await expect(ready.getByText(`Set aside: ${name}`)).toHaveCount(0);
  const last = ready.locator(".aims > li").last();
  await last.locator("summary").click();
  await last.getByRole("button", { name: "Put it first this week" }).click();
  await expect(ready.locator(".aims > li").first()).toContainText("first this week");
  await ready.locator(".aims > li").first().locator("summary").click();
  await ready.getByRole("button", { name: "She knows this already" }).first().click();
  await page.goto("/logbook");
  await expect(page.getByText("Said to be known already").first()).toBeVisible();
});

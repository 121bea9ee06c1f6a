import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, kill, serve, test } from "./house.mjs";
import { drawer } from "./strip.mjs";

const port = 5392;
const base = `http://localhost:${port}`;

test("an empty household begins, plays, is cut off, and goes on at the same turn", async ({ page }) => {
  const data = mkdtempSync(join(tmpdir(), "allowance-resume-"));
  let { server, ready } = await serve("serve", port, data);
  await ready;
  try {
    await page.goto(base);
    await expect(page.getByRole("heading", { name: "Begin in three steps" })).toBeVisible();
    await page.getByLabel("Name or nickname").fill("Juno <3");
    await page.getByLabel("Born (month)").fill("2022-05");
    await page.getByRole("button", { name: "Add" }).click();
    await page.getByRole("button", { name: "two packs" }).click();
    await page.getByRole("link", { name: /To the bench with Juno/ }).click();
    await page.getByRole("button", { name: "on the screen" }).click();
    await expect(page.locator(".turn")).toContainText("make 5");
    const cards = page.locator(".card[aria-label]");
    await page.getByRole("button", { name: "Nothing found" }).click();
    await expect(page.locator("#undo")).toBeEnabled();
    const before = await cards.evaluateAll((list) => list.map((c) => c.getAttribute("aria-label")));
    const at = page.url();

    await kill(server);
    ({ server, ready } = await serve("serve", port, data));
    await ready;
    await page.goto(at);
    expect(await cards.evaluateAll((list) => list.map((c) => c.getAttribute("aria-label")))).toEqual(before);
    await drawer(page);
    await page.getByRole("button", { name: "Undo" }).click();
    await expect(page.locator("#undo")).toBeDisabled();
    await drawer(page);
    await page.getByRole("button", { name: "Stop here" }).click();
    await expect(page.getByRole("heading", { name: "Stopped here" })).toBeVisible();
  } finally {
    await kill(server);
  }
});

test("a key pressed while the server is away is noted when it is back", async ({ page }) => {
  // A demonstration is made for it, and the server is started twice.
  test.setTimeout(240_000);
  const data = mkdtempSync(join(tmpdir(), "allowance-away-"));
  let { server, ready } = await serve("serve", port, data);
  await ready;
  try {
    await page.goto(`${base}/start`);
    await page.getByRole("button", { name: "Try the demonstration" }).click();
    await page.waitForURL(`${base}/`, { timeout: 150_000 });
    await page.goto(`${base}/bench?game=partners&level=spot&s1=2`);
    await page.getByRole("button", { name: "just notes" }).click();
    await expect(page.locator(".turn")).toBeVisible();
    // Its script is there too, though the machine still looks through all games.
    await page.waitForLoadState("networkidle");
    await kill(server);
    await page.getByRole("button", { name: "saw it" }).click();
    await expect(page.locator("form.waiting")).toHaveCount(1);
    ({ server, ready } = await serve("serve", port, data));
    await ready;
    await expect(page.locator(".message")).toHaveText("Noted: saw it.", { timeout: 20_000 });
  } finally {
    await kill(server);
  }
});

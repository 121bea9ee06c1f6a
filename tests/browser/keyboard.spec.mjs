import { expect, test } from "./house.mjs";
import { answered } from "./strip.mjs";

// The whole way without a mouse.
test("from today to growth by keyboard only", async ({ page }) => {
  await page.goto("/");
  await tabTo(page, "Tune");
  await page.keyboard.press("Enter");
  await page.waitForURL(/\/bench\?/);
  await page.goto("/bench?game=partners&level=spot&target=5&s1=2");
  await page.keyboard.press("?");
  await expect(page.getByRole("dialog")).toContainText("play on the screen");
  await page.keyboard.press("Escape");

  await page.keyboard.press("c");
  await expect(page.getByLabel("Rows")).toBeVisible();
  await page.keyboard.press("g");
  await expect(page.locator("#target")).toBeVisible();
  await page.keyboard.press("s");
  await page.waitForURL(/\/table\/\d+/);

  const lay = await page.locator("#table").innerHTML();
  await page.keyboard.press("n");
  await answered(page, lay);
  await expect(page.locator("#undo")).toBeEnabled();
  await page.keyboard.press("u");
  await expect(page.locator("#undo")).toBeDisabled();
  await page.keyboard.press("i");
  await expect(page.locator(".said")).toBeVisible();
  await page.keyboard.press("x");
  await expect(page.getByRole("heading", { name: "Stopped here" })).toBeVisible();
});

test("notes only: a letter notes, n goes on, u takes back", async ({ page }) => {
  await page.goto("/bench?game=partners&level=spot&s1=2&s2=3");
  await page.keyboard.press("p");
  await page.waitForURL(/\/table\//);
  await expect(page.locator(".turn")).toContainText("Otis’s turn");
  await page.keyboard.press("a");
  await expect(page.locator(".turn")).toContainText("Mags’s turn");
  await expect(page.locator(".message")).toHaveText("Noted: saw it.");
  await page.keyboard.press("n");
  await expect(page.locator(".turn")).toContainText("Otis’s turn");
  await page.keyboard.press("u");
  await expect(page.locator(".turn")).toContainText("Mags’s turn");
  // There is an answer once the number is named.
  await expect(page.locator("[data-hold]")).toHaveCount(0);
  await page.locator("#named-3").click();
  await expect(page.locator(".asked")).toContainText("3 and what make 10?");
  const answer = page.locator(".answer").first();
  await expect(answer).toBeHidden();
  await page.locator("[data-hold]").first().focus();
  await page.keyboard.down(" ");
  await expect(answer).toBeVisible();
  await page.keyboard.up(" ");
  await expect(answer).toBeHidden();
  await page.keyboard.press("x");
});

test("refereed: digits type what turned up", async ({ page }) => {
  await page.goto("/bench?game=partners&level=spot&layout=1x4&s1=2");
  await page.keyboard.press("r");
  await page.waitForURL(/\/table\//);
  await expect(page.locator(".number-keys")).toBeVisible();
  for (const digit of ["6", "4", "1", "2"]) {
    await page.keyboard.press(digit);
    await expect(page.locator(`.card[aria-label$=": ${digit}"]`)).toHaveCount(1);
  }
  await page.locator("#card-0").click();
  await expect(page.locator(".number-keys")).toBeVisible();
  await expect(page.getByRole("button", { name: "right, not watched" })).toHaveAttribute("aria-pressed", "true");
  await page.keyboard.press("x");
});

async function tabTo(page, words) {
  for (let i = 0; i < 40; i++) {
    await page.keyboard.press("Tab");
    if ((await page.evaluate(() => document.activeElement?.textContent?.trim())) === words) return;
  }
  throw new Error(`${words} was not reached by Tab`);
}

test("two quick taps at the table are both taken", async ({ page }) => {
  await page.goto("/bench?game=partners&level=spot&s1=2");
  await page.keyboard.press("p");
  await page.waitForURL(/\/table\//);
  await page.evaluate(() => {
    document.querySelector("[aria-label='saw it']").click();
    document.getElementById("stop").click();
  });
  await expect(page.getByRole("heading", { name: "Stopped here" })).toBeVisible();
  await expect(page.getByText("1 note: 1 × saw it.")).toBeVisible();
});

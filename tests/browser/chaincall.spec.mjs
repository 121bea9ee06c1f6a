import { expect, test } from "./house.mjs";
import { open } from "./strip.mjs";

test("a chain of one more is played round to its first card", async ({ page }) => {
  await page.goto("/bench?game=chaincall&level=more&values=1-5&s1=1&s2=2");
  await open(page);
  await expect(page.getByText("4 cards, each with what it has (numerals) and what it looks for (dice).")).toBeVisible();
  await expect(page.getByText("What you play for is reached in nearly every game.")).toBeVisible();
  await page.getByRole("button", { name: "on the screen" }).click();
  for (let turn = 0; turn < 4; turn++) {
    await expect(page.locator(".turn")).toContainText(/I have \d+\. Who has one more than this\?/);
    const called = await page.locator("[data-zone=stage] .counts").count();
    const names = await page.locator("button.card").evaluateAll((cards) => cards.map((c) => c.getAttribute("aria-label")));
    const holder = names.findIndex((n) => n.endsWith(`: ${called + 1}`));
    if (turn === 0) {
      await page.locator("button.card").nth((holder + 1) % 4).click();
      await expect(page.locator("#table").getByText("That card does not answer. Look again together.")).toBeVisible();
    }
    // The next number is read only when the table has been laid anew.
    const before = await page.locator("#table").getAttribute("data-turn");
    await page.locator("button.card").nth(holder).click();
    await expect(page.locator("#table")).not.toHaveAttribute("data-turn", before);
    await expect(page.getByRole("button", { name: "saw it" })).toBeVisible();
  }
  await expect(page.locator(".turn")).toContainText("The chain is closed.");
});

test("a chain that is too long, or another relation, is refused with what goes; by keyboard a relation is chosen", async ({ page }) => {
  await page.goto("/bench?game=chaincall&relation=double&cards=9&s1=2");
  await expect(page.getByRole("alert")).toContainText("Only 5 of these numbers can be called with the double, each once.");
  await page.getByRole("alert").getByRole("link").press("Enter");
  await expect(page.getByRole("alert")).toHaveCount(0);
  await expect(page).toHaveURL(/cards=5/);
  await page.waitForLoadState("networkidle");
  await page.keyboard.press("g");
  await expect(page).toHaveURL(/bench.open=game/);
  await page.getByLabel("What answers").selectOption("partner:7");
  await expect(page).toHaveURL(/relation=partner%3A7/);
});

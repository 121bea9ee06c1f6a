import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "./house.mjs";
import { open } from "./strip.mjs";

test("a thing is put in by keyboard, found by the games, and taken out again", async ({ page }) => {
  await page.goto("/bench?game=gather&pool=70&s1=2");
  await open(page);
  await expect(page.locator(".get-out")).toContainText("tags and cotton reels together");
  await page.goto("/cupboard");
  expect((await new AxeBuilder({ page }).analyze()).violations.map((v) => v.id)).toEqual([]);
  await page.getByLabel("What it is", { exact: true }).fill("Chestnuts");
  await page.keyboard.press("Tab");
  await page.keyboard.type("90");
  await page.getByLabel("Its shape").selectOption("Ball");
  await page.getByLabel("Millimetres").fill("28");
  await page.getByRole("button", { name: "Put it in" }).press("Enter");
  const row = page.getByRole("row", { name: /Chestnuts/ });
  await expect(row).toContainText("90");
  await expect(row).toContainText("small");
  await page.goto("/bench?game=gather&pool=70&s1=2");
  await open(page);
  await expect(page.locator(".get-out")).toContainText("Chestnuts");
  await page.goto("/cupboard");
  await page.getByRole("button", { name: "Take out Chestnuts" }).press("Enter");
  await expect(page.getByRole("row", { name: /Chestnuts/ })).toHaveCount(0);
});

test("a size that cannot be is refused with what to do, and what was typed stays", async ({ page }) => {
  await page.goto("/cupboard");
  await page.getByLabel("What it is", { exact: true }).fill("Buttons");
  await page.getByLabel("Its shape").selectOption("Flat");
  await page.getByRole("button", { name: "Put it in" }).click();
  await expect(page.getByRole("alert")).toContainText("choose “not measured”");
  await expect(page.getByLabel("What it is", { exact: true })).toHaveValue("Buttons");
});

test("a short pack is counted as it is, on the way from the bench", async ({ page }) => {
  await page.goto("/bench?game=topper&deck=2x4:5,6,7&s1=2&s2=3");
  await open(page);
  await expect(page.locator(".get-out")).toContainText("of the sixes one is missing");
  await page.getByRole("link", { name: "Play with what is there" }).click();
  await open(page);
  await expect(page.locator(".get-out")).toContainText("23 cards");
  await expect(page.getByRole("link", { name: "Play with what is there" })).toHaveCount(0);
});

test("a baby in the house keeps small things off the table", async ({ page }) => {
  await page.goto("/house");
  const form = page.locator("form[action='/house?handler=Add']");
  await form.getByLabel("Name or nickname").fill("Bo");
  await form.getByLabel("Is a").selectOption("Other");
  await form.getByRole("button", { name: "Add" }).click();
  await page.goto("/bench?game=downline&s1=2");
  await open(page);
  await expect(page.locator(".caution").first()).toContainText("out of reach of Bo");
  await page.locator(".caution").first().getByRole("link", { name: "More" }).click();
  await expect(page).toHaveURL(/guide#small-parts/);
  await page.goto("/house");
  await page.getByRole("link", { name: "Remove Bo" }).click();
  await page.getByRole("button", { name: "Erase Bo" }).click();
});

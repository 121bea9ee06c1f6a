import { expect, test } from "./house.mjs";
import { open } from "./strip.mjs";

test("nine panes for two: calls are covered on both boards until a line is full", async ({ page }) => {
  await page.goto("/bench?game=panes&values=1-9&formCall=dice&s1=2&s2=3");
  await open(page);
  await expect(page.getByText(/About \d calls when everyone finds hers\./)).toBeVisible();
  await page.getByRole("button", { name: "on the screen" }).click();
  await expect(page.locator("[data-zone=board]")).toHaveCount(2);
  const called = () => page.locator("[data-zone=stage] .counts").count();
  const tap = async (board, number) => page.locator("[data-zone=board]").nth(board).getByRole("button", { name: new RegExp(`: ${number}$`) }).click();
  const first = await called();
  await tap(0, first === 1 ? 2 : 1);
  await expect(page.locator("#table")).toContainText("That pane does not go with the call.");
  // One covers, and then the grown-up goes on without the other: her pane stays open.
  await tap(1, first);
  await expect(page.locator(".pane.picked")).toHaveCount(1);
  await page.getByRole("button", { name: "Go on" }).click();
  await expect(page.locator(".pane.covered")).toHaveCount(1);
  for (let turn = 0; turn < 9 && (await page.locator("[data-zone=stage]").count()) > 0; turn++) {
    const covered = await page.locator(".pane.covered").count();
    const now = await called();
    await tap(0, now);
    await expect(page.locator(".pane.picked")).toHaveCount(1);
    await tap(1, now);
    await expect(page.locator(".pane.covered")).toHaveCount(covered + 2);
  }
  await expect(page.locator(".turn")).toContainText("A full line.");
  await expect(page.getByText("The end")).toBeVisible();
});

test("too few numbers, or a middle that is none, are refused with what goes", async ({ page }) => {
  await page.goto("/bench?game=panes&level=more&values=1-9&s1=2");
  await expect(page.getByRole("alert")).toContainText("A board needs 9 different numbers, and with 1 more 8 numbers can be covered.");
  await page.getByRole("alert").getByRole("link").click();
  await expect(page.getByRole("alert")).toHaveCount(0);
  await expect(page).toHaveURL(/values=1-10/);
});

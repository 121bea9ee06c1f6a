import { expect, test } from "./house.mjs";
import { open } from "./strip.mjs";

test("fives and ones: each call is answered by one tap, with real things too, and the forms are chosen by boxes", async ({ page }) => {
  await page.goto("/bench?game=countbox&level=joinOnes&s1=3&bench.open=cards");
  await page.getByLabel("fingers").check();
  await expect(page).toHaveURL(/forms=tally\.double-ten-frame\.fingers|forms=double-ten-frame\.fingers\.tally|forms=[a-z.-]*fingers/);
  await page.getByLabel("double ten-frame").uncheck();
  await page.getByLabel("tally").uncheck();
  await expect(page).toHaveURL(/forms=fingers/);
  await open(page);
  await page.getByRole("button", { name: "just notes" }).click();
  // With real things nobody but the grown-up calls, and two taps say what: the numbers of the sum.
  await page.locator("#named-11").click();
  await expect(page.getByText("11 and …")).toBeVisible();
  // Which ones there are hangs on what she played last.
  const other = await page.locator("[id^=named-]").first().innerText();
  await page.locator(`#named-${other}`).click();
  await expect(page.locator(".asked")).toHaveText(`Mags: How many are 11 and ${other} together?`);
  await page.keyboard.press("s");
  await expect(page.locator(".message")).toHaveText("Noted: used the structure.");
  await page.keyboard.press("u");
  await expect(page.locator(".message")).toHaveCount(0);
  await page.keyboard.press("c");
  for (let turn = 6; turn > 0; turn--) {
    await expect(page.getByText(`${turn} to come`)).toBeVisible();
    await expect(page.locator(".turn")).toHaveText(/Mags: \d+ and \d+ more\?/);
    await expect(page.locator("[data-zone=stage] > .form-picture")).toHaveCount(1);
    // What is added fills it up, in the second tone.
    const [, more] = (await page.locator(".turn").innerText()).match(/and (\d+) more/);
    await expect(page.locator("[data-zone=stage] .counts.mark-second, [data-zone=stage] .counts.second")).toHaveCount(Number(more));
    await page.keyboard.press("s");
  }
  await expect(page.getByText("6 × used the structure")).toBeVisible();
});

test("nothing to add is refused with numbers that work", async ({ page }) => {
  await page.goto("/bench?game=countbox&level=joinOnes&numbers=20-20&s1=3");
  await expect(page.getByRole("alert")).toContainText("Nothing can be added here with 20 alone.");
  await page.getByRole("alert").getByRole("link").click();
  await expect(page.getByRole("alert")).toHaveCount(0);
});

import { expect, test } from "./house.mjs";
import { open } from "./strip.mjs";

async function notesOnly(page) {
  await page.goto("/bench?game=partners&level=spot&s1=2");
  await open(page);
  await page.getByRole("button", { name: "just notes" }).click();
  await expect(page.locator(".turn")).toBeVisible();
}

const noted = async (page) => (await (await page.request.get(page.url().replace("/table/", "/logbook/"))).text()).split("saw it</span>").length - 1;

test("a note that is refused is said to be so, stays marked, and goes again", async ({ page }) => {
  await notesOnly(page);
  let sent = 0;
  await page.route(/handler=Note/, (route) => (sent++ === 0 ? route.fulfill({ status: 507, contentType: "text/html", body: "<p data-trouble>The disk is full.</p>" }) : route.continue()));
  await page.getByRole("button", { name: "saw it" }).click();
  await expect(page.locator("#unsent")).toContainText("Not noted. The disk is full. Trying again.");
  await expect(page.locator("form.waiting")).toHaveCount(1);
  await expect(page.locator(".message")).toHaveText("Noted: saw it.", { timeout: 15_000 });
  await expect(page.locator("#unsent")).toBeHidden();
  expect(sent).toBe(2);
});

test("where the session is lost a reload is asked for, and what was tapped goes again, once", async ({ page, context }) => {
  await notesOnly(page);
  await context.clearCookies();
  await page.getByRole("button", { name: "saw it" }).click();
  await expect(page.locator("#unsent")).toContainText("Not noted: this page is too old to be taken.");
  await expect(page.locator("form.waiting")).toHaveCount(1);
  await page.getByRole("button", { name: "Reload" }).click();
  await expect.poll(() => noted(page), { timeout: 15_000 }).toBe(1);
  await page.reload();
  await expect(page.locator("#unsent")).toBeHidden();
  expect(await noted(page)).toBe(1);
});

test("settings near the limits come up, and say what they know", async ({ page }) => {
  for (const query of ["game=topper&level=three&s1=child&s2=child&s3=child&s4=child&s5=child", `game=topper&level=sum&cardsEach=4&deck=h:${[...Array(61).keys()].map((n) => `${n}.7`)}&s1=2&s2=3`]) {
    await page.goto(`/bench?${query}`);
    await open(page);
    await expect(page.getByRole("region", { name: "How long" })).toBeVisible();
    await expect(page.locator(".figure").first()).toContainText("minutes");
  }
  await expect(page.getByText("too large to be counted through")).toBeVisible();
});

test("what is not there and what cannot be taken is told in plain words", async ({ page }) => {
  await page.goto("/logbook?player=rubbish");
  await expect(page.getByRole("heading", { name: "That could not be taken" })).toBeVisible();
  await page.getByRole("link", { name: "Today" }).click();
  await expect(page).toHaveURL(/\/$/);
});

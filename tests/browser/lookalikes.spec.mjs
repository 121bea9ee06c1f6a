import { expect, test } from "./house.mjs";
import { drawer, marks, open } from "./strip.mjs";

// What a card shows: a numeral is read, dots are counted on the picture.
const value = async (card) => {
  const words = await card.getAttribute("aria-label");
  const read = words.match(/: (\d+)$/);
  return read ? Number(read[1]) : marks(card);
};

const pair = async (page) => {
  const seen = new Map();
  for (const card of await page.locator("button.card").all()) {
    const n = await value(card);
    if (seen.has(n)) return [seen.get(n), await card.getAttribute("id")];
    seen.set(n, await card.getAttribute("id"));
  }
  throw new Error("no pair lies open");
};

test("another game is chosen, played face up, and noted", async ({ page }) => {
  await page.goto("/bench?game=partners&level=spot&s1=1&s2=2");
  await page.getByRole("link", { name: "Another game" }).click();
  await page.waitForURL(/\/shelf/);
  await page.getByLabel("Type to find").fill("lookal");
  await expect(page.locator("#shelf-games li")).toHaveCount(1);
  await page.getByRole("link", { name: /^Lookalikes/ }).click();
  await expect(page.getByRole("heading", { name: "Lookalikes", exact: true })).toBeVisible();
  // It lies there as these two would begin; face up is a level of it.
  await page.getByRole("link", { name: "Face up", exact: true }).click();
  await expect(page).toHaveURL(/level=faceup/);
  await page.getByRole("link", { name: /^What lies there/ }).click();
  await page.getByLabel("The other shows").selectOption("ten-frame");
  await expect(page).toHaveURL(/formB=ten-frame/);
  await open(page);
  await expect(page.getByText("6 cards as ten-frame: 1 to 6.")).toBeVisible();
  await page.getByRole("button", { name: "on the screen" }).click();
  await expect(page.locator(".turn")).toContainText("Juno: Find two that show the same.");
  const before = await page.locator("button.card").count();
  const [first, second] = await pair(page);
  await page.locator(`#${first}`).click();
  await expect(page.locator(`#${first}`)).toHaveAttribute("aria-pressed", "true");
  await page.locator(`#${second}`).click();
  await expect(page.locator("button.card")).toHaveCount(before - 2);
  await expect(page.locator(".turn")).toContainText("Otis");
  await page.getByRole("button", { name: "counted all" }).click();
  await expect(page.getByRole("button", { name: "counted all" })).toHaveAttribute("aria-pressed", "true");
  await drawer(page);
  await page.getByRole("button", { name: "Stop here" }).click();
  await page.goto("/logbook?player=1");
  await expect(page.getByRole("main").getByText(/Lookalikes/).filter({ visible: true }).first()).toBeVisible();
});

test("face down with two backs, by keyboard: two are turned, and the forecast tells the flips", async ({ page }) => {
  await page.goto("/bench?game=lookalikes&level=facedown&twoBacks=yes&memory=perfect&s1=2");
  await open(page);
  await expect(page.getByText(/Two cards are turned about \d+ times until all pairs are found\./)).toBeVisible();
  await page.keyboard.press("s");
  await expect(page.locator(".turn")).toContainText("Turn two cards.");
  await expect(page.locator("[data-zone=grid] .d-otherback")).toHaveCount(6);
  await page.locator("#card-0").focus();
  await page.keyboard.press("Enter");
  await expect(page.locator(".turn")).toContainText("Turn one more.");
  await expect(page.locator("#card-2")).toBeDisabled();
  await page.locator("#card-1").focus();
  await page.keyboard.press("Enter");
  await expect(page.locator(".turn")).toContainText(/A pair: keep it.|Turn two cards./);
});

test("in a row each picture goes under its own numeral; another place is told kindly", async ({ page }) => {
  await page.goto("/bench?game=lookalikes&level=line&values=1-4&s1=1");
  await open(page);
  await page.getByRole("button", { name: "on the screen" }).click();
  for (let left = 4; left > 0; left--) {
    await expect(page.locator("[data-zone=stage]")).toBeVisible();
    const n = await page.locator("[data-zone=stage] .counts").count();
    if (left === 4) {
      await page.locator(`#card-${4 + (n % 4)}`).click();
      await expect(page.locator("#table").getByText("That is another one. Look again together.")).toBeVisible();
    }
    await page.locator(`#card-${4 + n - 1}`).click();
    await expect(page.locator("button.card.slot")).toHaveCount(left - 1);
  }
  await expect(page.locator(".turn")).toContainText("Every card lies where it belongs.");
});

test("refereed, a card that turned up is tapped by what it shows", async ({ page }) => {
  await page.goto("/bench?game=lookalikes&level=facedown&values=1-3&s1=2");
  await open(page);
  await page.getByRole("button", { name: "refereed" }).click();
  await page.locator("#card-0").click();
  await page.getByRole("button", { name: "2 as dice" }).click();
  await page.locator("#card-1").click();
  await page.getByRole("button", { name: "2", exact: true }).click();
  await expect(page.locator(".turn")).toContainText("A pair: keep it.");
});

test("what does not go is refused with the nearest that does", async ({ page }) => {
  await page.goto("/bench?game=lookalikes&values=1-20&formB=dice&s1=2");
  await expect(page.getByRole("alert")).toContainText("Dice show 0 to 12, and the cards go to 20.");
  await page.getByRole("alert").getByRole("link").click();
  await expect(page.getByRole("alert")).toHaveCount(0);
});

import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "./house.mjs";
import { open } from "./strip.mjs";

// The browser's clock is held, so that every frame is 16 ms and a time shown can be told to the millisecond.
const begin = async (page, query, way = "on the screen") => {
  await page.goto(`/bench?game=glimpse&${query}`);
  await open(page);
  await page.getByRole("button", { name: way }).click();
  await expect(page).toHaveURL(/\/table\/\d+/);
  await held(page);
};

// From here on time goes only when the test lets it.
const held = async (page) => {
  await expect(page.locator("#table")).toBeVisible();
  // The script that counts the time comes last.
  await page.waitForLoadState("load");
  await page.clock.pauseAt(new Date(Date.now() + 60_000));
};

const press = async (page, key) => {
  await page.keyboard.press(key);
  await page.clock.runFor(200);
};

const look = async (page) => {
  await page.keyboard.press("v");
  await page.clock.runFor(352);
  await expect(page.locator("[data-glimpse]")).toHaveAttribute("data-phase", "picture");
  await expect(page.locator("[data-layer=picture] svg").first()).toBeVisible();
  await page.clock.runFor(6_000);
  await expect(page.locator("[data-glimpse]")).toHaveAttribute("data-phase", "cover");
  await expect(page.locator("[data-layer=picture]")).toBeHidden();
  return Number(await page.locator("[data-shown]").first().inputValue());
};

test("a run by keyboard alone: the time really shown is recorded, and the time follows her", async ({ page }) => {
  await page.clock.install();
  await begin(page, "s1=3&range=4-4&forms=bar&showMs=1000&looks=8");
  const times = [];
  for (let turn = 0; turn < 8; turn++) {
    await expect(page.locator(".at-head")).toContainText(`${turn + 1} of 8`);
    const wanted = Number(await page.locator("[data-glimpse]").getAttribute("data-ms"));
    await expect(page.locator("[data-after-look]").first()).toBeHidden();
    const shown = await look(page);
    expect(Math.abs(shown - wanted)).toBeLessThanOrEqual(17);
    expect(shown % 16).toBe(0);
    times.push(wanted);
    await press(page, turn === 6 ? "h" : "a");
  }
  // 1068 ms three times, then a step of a quarter, three times, then one more; not yet goes back a step.
  expect(times).toEqual([1068, 1068, 1068, 854, 854, 854, 684, 854]);
  await expect(page.getByText("The end")).toBeVisible();
  await page.getByRole("link", { name: "The turns" }).click();
  await expect(page.locator("main")).toContainText("1.07 s shown");
  await page.goto("/growth/3");
  await expect(page.locator("svg[aria-label^='Glimpses: ']")).toHaveAttribute("aria-label", /4 as bar .* seconds from 8 looks/);
});

test("pictures change no more than three times a second, and a hidden page shows nothing", async ({ page }) => {
  await page.clock.install();
  await begin(page, "s1=2&range=3-5&showMs=350&adaptive=no");
  const changes = await page.evaluate(() => {
    window.changes = [];
    new MutationObserver(() => window.changes.push(performance.now())).observe(document.querySelector("[data-glimpse]"), { attributes: true, attributeFilter: ["data-phase"] });
    return 0;
  });
  expect(changes).toBe(0);
  await look(page);
  await page.keyboard.press("v");
  await page.keyboard.press("v");
  await page.clock.runFor(3_000);
  const at = await page.evaluate(() => window.changes);
  expect(at.length).toBe(4);
  for (let i = 1; i < at.length; i++) expect(at[i] - at[i - 1]).toBeGreaterThanOrEqual(333);
  await expect(page.locator("[data-again]").first()).toHaveValue("true");
  // Another window comes to the front while a picture shows: it is put away, and is shown anew.
  await press(page, "a");
  await expect(page.locator(".at-head")).toContainText("2 of 10");
  await page.keyboard.press("v");
  await page.clock.runFor(352);
  await page.evaluate(() => {
    Object.defineProperty(document, "hidden", { value: true, configurable: true });
    document.dispatchEvent(new Event("visibilitychange"));
    delete document.hidden;
  });
  await page.clock.runFor(3_000);
  await expect(page.locator("[data-glimpse]")).toHaveAttribute("data-phase", "ready");
  await expect(page.locator("[data-after-look]").first()).toBeHidden();
  await look(page);
});

test("she draws rings round the groups she saw, or the grown-up chooses them", async ({ page }) => {
  await page.clock.install();
  await begin(page, "s1=2&range=6-6&forms=ten-frame&pictures=fixed&level=howSeen&showMs=600");
  await look(page);
  await page.keyboard.press("r");
  await page.clock.runFor(400);
  await expect(page.locator("[data-layer=picture]")).toBeVisible();
  const marks = page.locator("[data-layer=picture] .counts");
  await expect(marks).toHaveCount(6);
  const boxes = [];
  for (const mark of await marks.all()) boxes.push(await mark.boundingBox());
  const row = boxes.filter((b) => Math.abs(b.y - boxes[0].y) < 5);
  expect(row.length).toBe(5);
  const [left, right, top, bottom] = [Math.min(...row.map((b) => b.x)) - 6, Math.max(...row.map((b) => b.x + b.width)) + 6, row[0].y - 6, row[0].y + row[0].height + 6];
  await page.mouse.move(left, top);
  await page.mouse.down();
  for (const [x, y] of [[right, top], [right, bottom], [left, bottom]]) await page.mouse.move(x, y, { steps: 4 });
  await page.mouse.up();
  await expect(page.locator("[data-groups]")).toHaveValue("5+1");
  await page.keyboard.press("c");
  await expect(page.locator("[data-groups]")).toHaveValue("");
  await page.locator("[data-groups]").selectOption("3+3");
  await page.getByRole("button", { name: "used the structure" }).click();
  await page.clock.runFor(200);
  await expect(page.locator(".at-head")).toContainText("2 of 10");
});

for (const [name, width, height] of [["tablet", 820, 1180], ["phone", 390, 844]])
  test(`on a ${name}, with reduced motion, the stage does not move and nothing is too small`, async ({ page }) => {
    await page.setViewportSize({ width, height });
    await page.emulateMedia({ reducedMotion: "reduce" });
    await page.clock.install();
    await begin(page, "s1=1&range=1-3&showMs=1500");
    const before = await page.locator("[data-glimpse]").boundingBox();
    await look(page);
    const after = await page.locator("[data-glimpse]").boundingBox();
    expect(Math.abs(after.height - before.height)).toBeLessThanOrEqual(2);
    expect(after.height).toBeGreaterThan(height / 3);
    expect(await page.locator("[data-layer=cover]").evaluate((e) => getComputedStyle(e).backgroundImage)).toBe("none");
    for (const button of await page.locator(".glimpse-keys button:visible:not(.plain)").all()) {
      const box = await button.boundingBox();
      expect(Math.min(box.height, box.width)).toBeGreaterThanOrEqual(48);
    }
    expect(await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)).toBeLessThanOrEqual(0);
    await page.clock.resume();
    expect((await new AxeBuilder({ page }).analyze()).violations.map((v) => v.id)).toEqual([]);
  });

test("a group of twenty answers at once and is noted by taps", async ({ page }) => {
  await page.clock.install();
  await page.goto("/bench?game=glimpse&answers=atOnce&s1=1&s2=2&bench.open=game");
  await page.getByLabel("How many children").fill("20");
  await page.getByLabel("How many children").press("Enter");
  await expect(page).toHaveURL(/s20=child/);
  await open(page);
  await page.getByRole("button", { name: "on the screen" }).click();
  await expect(page).toHaveURL(/\/table\/\d+/);
  await held(page);
  await look(page);
  await page.getByText("tap who had not").click();
  await page.getByLabel("child 20").check();
  await press(page, "n");
  await expect(page.locator("#table")).toContainText("19 of 20 had it.");
});

test("without a screen: what to hold up is called, and two minutes with hands are noted afterwards", async ({ page }) => {
  await page.clock.install();
  await begin(page, "s1=2&forms=fingers&range=4-6", "just notes");
  await page.getByRole("button", { name: "Call for me" }).click();
  await expect(page.locator("[data-zone=stage]")).toBeVisible();
  await press(page, "a");
  await expect(page.getByText("9 to come")).toBeVisible();
  await page.goto("/glimpse");
  await page.getByRole("link", { name: "Only hands with Otis" }).click();
  await page.locator("#outcome-0").selectOption({ label: "right, not watched" });
  await page.getByRole("button", { name: "Keep what was seen" }).click();
  await expect(page).toHaveURL(/\/logbook\/entry\/\d+/);
});

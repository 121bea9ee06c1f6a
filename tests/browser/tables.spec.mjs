import { readFileSync } from "node:fs";
import { expect, test } from "./house.mjs";

// Every game and level, as the catalogue has them, laid on the table at this size: nothing needed in a turn lies below the
// fold, the board has its share of the screen, and what is tapped is large enough.
const games = readFileSync("../../docs/tables.md", "utf8")
  .split(/^# /m)
  .filter((section) => /^[^\n]*\(`\w+`\)/.test(section))
  .map((section) => ({ id: section.match(/\(`(\w+)`\)/)[1], levels: [...section.split(/\| level \|/)[1].split(/\n\n/)[0].matchAll(/^\| `([\w-]+)` \|/gm)].map((m) => m[1]) }));

const SIZES = ["laptop", "tablet", "phone"];
const FEWEST = 1;
const LEAST = { laptop: 0.45, tablet: 0.38, phone: 0.38 };
// Points of the screen: keys, and cards and panes of boards where several lie on a phone.
const LARGE = 40;
const LARGE_ON_BOARD = 32;

async function lay(page, game, level, players, way) {
  const token = await page.evaluate(() => JSON.parse(document.body.getAttribute("hx-headers:inherited")).RequestVerificationToken);
  const form = { game, level, "bench.way": way, __RequestVerificationToken: token };
  for (let seat = 1; seat <= players; seat++) form[`s${seat}`] = ["3", "2", "1", "child"][seat - 1];
  const answer = await page.request.post("/bench?handler=Play", { form, maxRedirects: 0 });
  return answer.headers().location;
}

async function measure(page, least, what) {
  const faults = await page.evaluate(
    ([least, large, onBoard]) => {
      const faults = [];
      const board = document.querySelector("[data-board]");
      const size = board?.getBoundingClientRect();
      if (board && size.width * size.height < least * innerWidth * innerHeight) faults.push(`the board has ${Math.round((100 * size.width * size.height) / innerWidth / innerHeight)} % of the screen`);
      const inView = (e) => {
        const box = e.getBoundingClientRect();
        return box.left >= -1 && box.top >= -1 && box.right <= innerWidth + 1 && box.bottom <= innerHeight + 1;
      };
      for (const e of document.querySelectorAll("[data-keys], [data-zone]")) if (!inView(e)) faults.push(`${e.dataset.zone ?? "the keys"} out of view`);
      if (board && !document.querySelector("[data-zone]")) faults.push("nothing is drawn");
      const side = document.querySelector(".at-side");
      if (side.scrollHeight > side.clientHeight + 2) faults.push("the keys scroll");
      for (const e of document.querySelectorAll("[data-board] button:enabled, [data-keys] button")) {
        const { width, height } = e.getBoundingClientRect();
        if (e.checkVisibility({ contentVisibilityAuto: true }) && Math.min(width, height) < (e.closest("[data-board]") ? onBoard : large) - 0.5) faults.push(`${e.id} is too small`);
      }
      if (document.documentElement.scrollWidth > innerWidth) faults.push("it scrolls sideways");
      return faults;
    },
    [least, LARGE, LARGE_ON_BOARD],
  );
  expect(faults, what).toEqual([]);
}

for (const { id, levels } of games)
  test(`${id}: every level is laid in view`, async ({ page }, info) => {
    expect(levels.length).toBeGreaterThan(0);
    await page.goto("/table");
    for (const [place, level] of levels.entries()) {
      // Each level at one of the three sizes, and the first one of every game at all of them.
      if (place >= FEWEST && place % 3 !== SIZES.indexOf(info.project.name)) continue;
      // One, two, three or four players; on the screen and refereed in turn.
      const players = 1 + ((place + info.project.name.length) % 4);
      const way = place % 2 === 0 ? "screen" : "refereed";
      const at = await lay(page, id, level, players, way);
      await page.goto(at ?? "/nowhere", { waitUntil: "load" });
      const what = `${id} ${level} ×${players} ${way}`;
      await expect(page.locator(".turn"), what).toBeVisible();
      await measure(page, LEAST[info.project.name], what);
      // One step on, where keys to note have come.
      const step = page.locator("#way-0, #n-1, #n-2, [data-board] button:enabled, .note-keys button, #pass").filter({ visible: true }).first();
      if ((await step.count()) === 0) continue;
      await step.click();
      await expect(page.locator(".htmx-request")).toHaveCount(0);
      if ((await page.locator("#table.over").count()) === 0) await measure(page, LEAST[info.project.name], `${what}, a step on`);
      await page.goto("/table");
    }
  });

test("eight have boards of their own, and thirty answer at once", async ({ page }, info) => {
  await page.goto("/table");
  const token = await page.evaluate(() => JSON.parse(document.body.getAttribute("hx-headers:inherited")).RequestVerificationToken);
  for (const [game, seats, more] of [["gather", 8, {}], ["glimpse", 30, { answers: "atOnce" }]]) {
    const form = { game, "bench.way": "screen", __RequestVerificationToken: token, ...more };
    for (let seat = 1; seat <= seats; seat++) form[`s${seat}`] = "child";
    const answer = await page.request.post("/bench?handler=Play", { form, maxRedirects: 0 });
    await page.goto(answer.headers().location, { waitUntil: "load" });
    await expect(page.locator("[data-board]")).toBeVisible();
    if (game === "gather") await measure(page, info.project.name === "laptop" ? 0.45 : 0.3, game);
  }
});

test("what is asked with real cards is named by two numbers, by key and by tap", async ({ page }, info) => {
  test.skip(info.project.name === "tablet", "as on the others");
  await page.goto("/table");
  await page.goto(await lay(page, "topper", "sum", 2, "notes"), { waitUntil: "load" });
  await page.getByRole("button", { name: "how many together" }).click();
  await expect(page.locator("#named-7")).toBeVisible();
  await expect(page.locator(".htmx-request")).toHaveCount(0);
  await page.locator("#named-7").focus();
  await page.keyboard.press("Enter");
  await expect(page.locator(".naming")).toContainText("7 and …");
  await page.locator("#named-9").click();
  await expect(page.locator(".asked")).toContainText("How many are 9 and 7 together?");
  await page.getByRole("button", { name: "counted on" }).click();
  await expect(page.locator(".message")).toHaveText("Noted: counted on.");
});

test("a piece walks place by place, and not where less motion is wished", async ({ page }, info) => {
  test.skip(info.project.name !== "laptop", "once is enough");
  const moves = async () => {
    await page.goto("/table");
    await page.goto(await lay(page, "downline", "numbers", 1, "screen"), { waitUntil: "load" });
    await page.evaluate(() => {
      window.walked = 0;
      const animate = Element.prototype.animate;
      Element.prototype.animate = function (frames, options) {
        window.walked = Math.max(window.walked, frames.length);
        return animate.call(this, frames, options);
      };
    });
    await page.getByRole("button", { name: "saw it" }).click();
    await expect(page.locator(".message")).toBeVisible();
    await page.waitForLoadState("networkidle");
    return page.evaluate(() => window.walked);
  };
  expect(await moves()).toBeGreaterThan(1);
  await page.emulateMedia({ reducedMotion: "reduce" });
  expect(await moves()).toBe(0);
});

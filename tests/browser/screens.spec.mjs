import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "./house.mjs";
import { drawer, open } from "./strip.mjs";

// They only look, each by itself: both workers take them.
test.describe.configure({ mode: "parallel" });

// Every screen, as a reader of the whole page meets it.
const screens = [
  "/", "/?here=2&minutes=5", "/week", "/bench", "/bench?game=partners&level=spot&s1=2&bench.open=deck", "/bench?game=partners&target=99", "/bench?game=partners&level=memory&s1=2&bench.open=files",
  "/bench?game=lookalikes&level=facedown&s1=2&bench.open=s1", "/bench?game=glimpse&answers=atOnce&bench.group=14&s1=1", "/bench?game=panes&s1=2&s2=3&bench.open=cards",
  "/bench?game=topper&level=sum&s1=2&s2=3&s3=1&s4=4&bench.open=s2", "/bench?game=gather&level=colour&s1=2&s2=3&bench.open=dice", "/shelf?s1=2&s2=3", "/shelf?words=rubbish", "/glimpse", "/glimpse/pocket/2",
  "/sheet?game=partners&level=memory&s1=2&s2=3", "/sheet?game=gather&level=sign&s1=3", "/table", "/growth/2?most=20&cell=bond-8-3", "/first-look/1", "/logbook", "/logbook/1", "/logbook?skill=partners&player=2",
  "/logbook/entry/1", "/logbook/type", "/logbook/import", "/cupboard", "/cupboard?edit=5", "/house", "/house?remove=2", "/guide", "/guide/forms", "/guide/forms/line?shape=winding&labels=all", "/look", "/start", "/nowhere",
];

// Colours are the same at every width and on every page of a kind: they are looked at on its first one.
const firstOfItsKind = (path) => screens.find((s) => kind(s) === kind(path)) === path;
// Of the pictures of growth there are so many that their colours are looked at once, with the dark pair.
const inColours = (path) => firstOfItsKind(path) && !path.startsWith("/growth");
const kind = (path) => path.split("?")[0].replace(/\d+$/, "");

// On a phone the bench and the pictures of growth have other elements than on the laptop; elsewhere only sizes hang on the width.
const otherOnPhones = /^\/(bench|first-look|shelf)?(\?|\/|$)/;

async function objections(page, rules) {
  const { violations } = await rules(new AxeBuilder({ page })).analyze();
  return violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html).slice(0, 3).join(" | ")}`);
}

const sticksOut = (page) => page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);

for (const path of screens) {
  test(`${path} has nothing that axe objects to and fits its width`, async ({ page }, info) => {
    test.skip(info.project.name !== "laptop", "the window is made narrower here");
    const said = [];
    page.on("console", (m) => m.type() === "error" && !m.text().includes("404") && said.push(m.text()));
    page.on("pageerror", (e) => said.push(e.message));
    await page.goto(path, { waitUntil: "load" });
    expect(await objections(page, (axe) => (inColours(path) ? axe : axe.disableRules(["color-contrast"])))).toEqual([]);
    expect(await sticksOut(page)).toBeLessThanOrEqual(0);
    await page.setViewportSize({ width: 820, height: 1180 });
    expect(await sticksOut(page)).toBeLessThanOrEqual(0);
    await page.setViewportSize({ width: 390, height: 844 });
    expect(await sticksOut(page)).toBeLessThanOrEqual(0);
    if (firstOfItsKind(path)) expect(await objections(page, (axe) => (otherOnPhones.test(path) ? axe.disableRules(["color-contrast"]) : axe.withRules(["target-size", "scrollable-region-focusable"])))).toEqual([]);
    expect(said).toEqual([]);
  });
}

test("the dark pair has contrast too", async ({ page }, info) => {
  test.skip(info.project.name !== "laptop", "colours are the same at every width");
  await page.emulateMedia({ colorScheme: "dark" });
  for (const path of ["/", "/bench", "/growth/1", "/logbook", "/look"]) {
    await page.goto(path, { waitUntil: "networkidle" });
    const found = await new AxeBuilder({ page }).withRules(["color-contrast"]).analyze();
    expect(found.violations.flatMap((v) => v.nodes.map((n) => n.html))).toEqual([]);
  }
});

for (const way of ["on the screen", "refereed", "just notes"])
  test(`played ${way}, what is pressed is large enough and axe finds nothing`, async ({ page }) => {
    await page.goto("/bench?game=partners&level=spot&layout=3x4&s1=2&s2=3");
    await open(page);
    await page.getByRole("button", { name: way }).click();
    await expect(page.locator("#table")).toBeVisible();
    for (const button of await page.locator(".card, .tools button:visible, .note-keys button, .number-keys button").all()) {
      const box = await button.boundingBox();
      expect(box.height).toBeGreaterThanOrEqual(48);
      expect(box.width).toBeGreaterThanOrEqual(48);
    }
    const found = await new AxeBuilder({ page }).analyze();
    expect(found.violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html).slice(0, 3).join(" | ")}`)).toEqual([]);
    expect(await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)).toBeLessThanOrEqual(0);
    await drawer(page);
    await page.getByRole("button", { name: "Stop here" }).click();
    await expect(page.getByText("Stopped here")).toBeVisible();
  });

test("fonts and script are the application's own", async ({ page }) => {
  const elsewhere = [];
  page.on("request", (r) => new URL(r.url()).hostname !== "localhost" && elsewhere.push(r.url()));
  await page.goto("/look", { waitUntil: "networkidle" });
  expect(await page.evaluate(() => document.fonts.check("16px Andika") && document.fonts.check("16px 'Public Sans'"))).toBe(true);
  expect(await page.evaluate(() => typeof window.htmx)).toBe("object");
  expect(elsewhere).toEqual([]);
});


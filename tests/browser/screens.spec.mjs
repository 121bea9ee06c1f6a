import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "./house.mjs";
import { drawer, open } from "./strip.mjs";

// Every screen, as a reader of the whole page meets it.
const screens = ["/", "/bench", "/bench?game=partners&level=spot&s1=2&bench.open=deck", "/bench?game=partners&level=spot&s1=2&bench.open=cards", "/bench?game=partners&level=spot&s1=2&s2=3&bench.open=s2", "/bench?game=partners&target=99", "/bench?game=partners&level=memory&s1=2&bench.open=files", "/bench?game=lookalikes&s1=1&s2=2&bench.open=game", "/shelf?s1=2&s2=3", "/shelf?words=rubbish", "/bench?game=lookalikes&level=partner&s1=2&bench.open=cards", "/bench?game=lookalikes&level=facedown&s1=2&bench.open=s1", "/bench?game=chaincall&level=partner&s1=1&s2=2&bench.open=cards", "/bench?game=glimpse&s1=1&bench.open=cards", "/bench?game=glimpse&answers=atOnce&bench.group=14&s1=1", "/bench?game=panes&s1=2&s2=3&bench.open=deck", "/bench?game=countbox&level=cross&s1=3&bench.open=s1", "/glimpse", "/glimpse/pocket/2", "/sheet?game=partners&level=memory&s1=2&s2=3", "/sheet?game=panes&s1=1&s2=2",  "/table", "/growth/2", "/growth/2?most=20&cell=bond-8-3", "/growth/1?cell=band-match-5&day=2026-01-01", "/first-look/1", "/logbook", "/logbook/1", "/logbook?skill=partners&player=2", "/logbook/entry/1", "/logbook/type", "/logbook/import", "/?here=2&minutes=5", "/cupboard", "/cupboard?edit=5", "/bench?game=gather&level=colour&s1=2&s2=1&bench.open=things", "/bench?game=errand&level=sum&s1=1&bench.open=things", "/bench?game=topper&level=sum&s1=2&s2=3&s3=1&s4=4&bench.open=s2", "/bench?game=gather&s1=2&s2=3&bench.open=dice", "/sheet?game=gather&level=sign&s1=3", "/house", "/house?remove=2", "/guide", "/guide/forms", "/guide/forms/line?shape=winding&labels=all", "/guide/forms/numeral?size=large", "/look", "/start", "/nowhere"];

// On a phone the bench and the pictures of growth have other elements than on the laptop; elsewhere only sizes hang on the width.
const otherOnPhones = /^\/(bench|growth|first-look|\?|$)/;

for (const path of screens) {
  test(`${path} has nothing that axe objects to and fits its width`, async ({ page }, info) => {
    const said = [];
    page.on("console", (m) => m.type() === "error" && !m.text().includes("404") && said.push(m.text()));
    page.on("pageerror", (e) => said.push(e.message));
    await page.goto(path, { waitUntil: "load" });
    // Colours are those of the laptop at every width, and are looked at there; between the two there is nothing of its own.
    const { name } = info.project;
    if (name !== "tablet") {
      const axe = new AxeBuilder({ page });
      if (name === "phone") otherOnPhones.test(path) ? axe.disableRules(["color-contrast"]) : axe.withRules(["target-size", "scrollable-region-focusable"]);
      const found = await axe.analyze();
      expect(found.violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html).slice(0, 3).join(" | ")}`)).toEqual([]);
    }
    expect(await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)).toBeLessThanOrEqual(0);
    expect(said).toEqual([]);
  });
}

test("the dark pair has contrast too", async ({ page }) => {
  await page.emulateMedia({ colorScheme: "dark" });
  for (const path of ["/", "/bench", "/growth/2", "/logbook", "/first-look/1", "/look"]) {
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


import { expect, test } from "./house.mjs";
import { drawer, open } from "./strip.mjs";

// Open, today, bench, table, note, growth: the way a grown-up goes.
test("from today to growth by mouse or finger", async ({ page }, info) => {
  await page.goto("/");
  // The one table for all and what each child could play alone are in view at once.
  await expect(page.getByRole("button", { name: /^Play .* together$/ })).toBeInViewport();
  if (info.project.name === "laptop") for (const name of ["Juno", "Otis", "Mags"]) await expect(page.getByRole("button", { name: `Play now with ${name}` })).toBeInViewport({ ratio: 1 });
  await page.getByRole("link", { name: /^Tune with Otis/ }).click();
  await expect(page).toHaveURL(/\/bench\?game=/);
  await expect(page.getByRole("heading", { level: 1 })).toBeVisible();

  await page.goto("/bench?game=partners&level=spot&target=5&s1=2");
  await page.locator("[data-zone=grid] + foreignObject > a").click();
  await expect(page.getByRole("heading", { name: "What lies there" })).toBeVisible();
  await page.getByLabel("Rows").fill("2");
  await page.getByLabel("Rows").press("Tab");
  await expect(page).toHaveURL(/layout=2x/);
  await open(page);
  await expect(page.getByText("Since the last setting")).toBeVisible();

  await page.goto("/bench?game=partners&level=spot&target=10&s1=2&bench.open=s1");
  await expect(page.getByRole("heading", { name: "Harder", exact: true })).toBeVisible();
  const change = page.getByRole("link", { name: /^target \d+ instead of 10/ }).first();
  const target = Number((await change.textContent()).match(/\d+/)[0]);
  await change.click();
  await expect(page).toHaveURL(new RegExp(`target=${target}`));
  await open(page);
  await page.getByRole("button", { name: "on the screen" }).click();
  await expect(page.locator(".turn")).toContainText(`Otis: Find two that make ${target}.`);

  const { first, second, smaller } = await pair(page, target);
  await page.locator(`#card-${first}`).click();
  await expect(page.locator(`#card-${first}`)).toHaveAttribute("aria-pressed", "true");
  await page.locator(`#card-${second}`).click();
  const saw = page.getByRole("button", { name: "saw it" });
  await expect(page.getByRole("button", { name: "right, not watched" })).toHaveAttribute("aria-pressed", "true");
  await saw.click();
  await expect(saw).toHaveAttribute("aria-pressed", "true");

  await drawer(page);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(saw).toHaveAttribute("aria-pressed", "false");
  await saw.click();
  await expect(saw).toHaveAttribute("aria-pressed", "true");
  await drawer(page);
  await page.getByRole("button", { name: "Hint" }).click();
  await expect(page.locator(".said")).toBeVisible();
  await drawer(page);
  await page.getByText("Easier or harder for Otis").click();
  const gentler = page.getByRole("button", { name: new RegExp(`target \\d+ instead of ${target}`) }).first();
  const next = Number((await gentler.textContent()).match(/\d+/)[0]);
  await gentler.click();
  await expect(page.locator(".turn")).toContainText(`make ${next}`);
  await drawer(page);
  await page.getByText("Who is here").click();
  await page.getByRole("button", { name: "Mags joins" }).click();
  await expect(page.locator(".order")).toContainText("Mags");

  await drawer(page);
  await page.getByRole("button", { name: "Stop here" }).click();
  await expect(page.getByRole("heading", { name: "Stopped here" })).toBeVisible();
  await page.getByRole("button", { name: "again!" }).first().click();
  await expect(page.getByRole("button", { name: "again!" }).first()).toHaveAttribute("aria-pressed", "true");
  // What could come next, with its reason, leads to the bench.
  await expect(page.locator(".next-move a").first()).toHaveAttribute("href", /s1=2/);

  await page.getByRole("link", { name: "See how Otis grows" }).click();
  if (target > 10) await page.getByRole("link", { name: "Numbers to 20" }).click();
  await page.getByRole("link", { name: new RegExp(`^${smaller} ${target - smaller} make ${target}: .*seen `) }).click();
  await expect(page.locator("#evidence")).toContainText("saw it");
});

test("a refused setting offers one that goes", async ({ page }) => {
  await page.goto("/bench?game=partners&level=spot&target=25&s1=2");
  await expect(page.getByRole("alert")).toContainText("No two cards of this pack make 25");
  await page.getByRole("link", { name: "Use 18" }).click();
  await expect(page.getByRole("alert")).toHaveCount(0);
  await expect(page.getByText("make 18, face up")).toBeVisible();
});

/** Two places whose cards make the target, read from what the cards say. */
async function pair(page, target) {
  const cards = await page.locator(".card[aria-label]").evaluateAll((list) => list.map((c) => [c.value, Number(c.getAttribute("aria-label").split(": ")[1])]));
  for (const [i, a] of cards) for (const [j, b] of cards) if (i !== j && a + b === target) return { first: i, second: j, smaller: Math.min(a, b) };
  throw new Error("nothing goes");
}

test("after three that were not yet, something easier is offered quietly, and one tap changes it", async ({ page }) => {
  await page.goto("/bench?game=partners&level=spot&target=10&layout=3x4&s1=2");
  await open(page);
  await page.getByRole("button", { name: "just notes" }).click();
  await page.locator(".turn").waitFor();
  for (let i = 0; i < 3; i++) {
    const turn = await page.locator("#table").getAttribute("data-turn");
    await page.getByRole("button", { name: "not yet" }).first().click();
    await expect(page.locator("#table")).not.toHaveAttribute("data-turn", turn);
  }
  const offer = page.getByRole("button", { name: /^From the next turn, for Otis, / });
  await expect(offer).toBeVisible();
  // A child may read it: it says what changes, not why.
  await expect(offer).not.toHaveText(/eas|hard/i);
  await offer.click();
  await expect(page.locator(".message")).toContainText("From the next turn on,");
  await expect(offer).toBeHidden();
});

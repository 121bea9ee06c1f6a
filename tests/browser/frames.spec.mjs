import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "./house.mjs";
import { answered, open } from "./strip.mjs";

// Every game that is led by calls or dice, once from the bench to its end, by keyboard.
const games = [
  ["gather", "&pool=8&total=yes", "Until the heap is gone", "Take that many. How many then?"],
  ["errand", "&trips=2", "How many things to put out", "Read it, and close it."],
  ["rolltell", "&rounds=2&level=join", "What the dice show", "how many together?"],
  ["topper", "&deck=h:1.2,5.2,9.2&s2=3", "How close it is", "Which is more?"],
  ["spots", "&rounds=2", "To fill all cards at once", "Which number? Put out that many."],
  ["somegone", "&rounds=2&level=say", null, /\d of \d goe?s? away\.|\d of \d go away\./],
  ["evenplates", "&rounds=2&max=6", "What can be made even", "Which has more? Make them even."],
  ["around", "&rounds=2&level=howMany", null, "How many fewer or more than 5?"],
  ["linewalk", "&rounds=2&level=jump", null, /From \d+, \d (on|back)\?/],
  ["downline", "&sections=6", "Down the line", "How many? Where are you then?"],
  ["lift", "&up=3&down=3", "Until a door", "How many up? Which floor is that?"],
  ["homing", "&rounds=2", "Coming home", "Up or down? Home is 10."],
  ["door", "&rounds=2&whole=7", null, "What is behind the closed door?"],
  ["nearmiss", "&rounds=2", "How near it is", "How far is that from 10?"],
  ["tallyup", "&goal=6", "To the goal", "How many do you have now?"],
  ["runningtotal", "&stopAt=6&rounds=1", "How far it goes", "Begin with that many."],
  ["tellit", "&rounds=2&unknown=change", null, "How many? Say the whole sentence."],
];

for (const [game, more, heading, asks] of games)
  test(`${game} is played from the bench to its end by keyboard`, async ({ page }) => {
    await page.goto(`/bench?game=${game}&s1=2${more}`);
    await open(page);
    if (heading) await expect(page.getByRole("heading", { name: heading, exact: true })).toBeVisible();
    await expect(page.getByRole("heading", { name: "Get ready" })).toBeVisible();
    expect((await new AxeBuilder({ page }).analyze()).violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html).slice(0, 3).join(" | ")}`)).toEqual([]);
    await page.getByRole("button", { name: "on the screen" }).click();
    await expect(page.locator(".turn")).toContainText(asks);
    expect((await new AxeBuilder({ page }).analyze()).violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html).slice(0, 3).join(" | ")}`)).toEqual([]);
    for (let i = 0; i < 60 && (await page.getByText("The end", { exact: true }).count()) === 0; i++) {
      const before = await page.locator("#table").innerHTML();
      await page.keyboard.press((await page.locator("#way-1, #way-0").count()) > 0 ? ((await page.locator("#way-1").count()) > 0 ? "2" : "1") : (await page.locator(".note-keys").count()) > 0 && !(await page.locator(".turn").innerText()).includes("close it") ? "a" : "n");
      await answered(page, before);
    }
    await expect(page.getByText("The end", { exact: true })).toBeVisible();
    if (game !== "homing") await expect(page.locator("#table")).toContainText(/× (saw it|right)/);
    await page.getByRole("link", { name: "The turns" }).click();
    await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
  });

test("a refusal on each of them leads to what goes", async ({ page }) => {
  for (const query of ["game=downline&dice=d6%2Bd6&finish=exact", "game=lift&upDice=1&downDice=1", "game=homing&start=30&line=0-20", "game=somegone&start=30&takeMax=30&from=any", "game=evenplates&max=2", "game=around&n=10", "game=spots&from=7&to=5", "game=linewalk&from=10&to=5", "game=gather&dice=d6%2Bd6&lastTake=exact", "game=errand&trips=11", "game=rolltell&level=more&dice=d6", "game=topper&make=difference&cardsEach=3", "game=door&whole=30", "game=gates&play=lastIn", "game=tallyup&goal=99", "game=nudge&cells=20.30", "game=hedge&inRow=9", "game=emptyseat&target=30", "game=manymakes&stock=2x3&numbers=7-9", "game=spotsum&ops=difference&count=3", "game=targethand&target=twoDigits", "game=balance&deck=h:1.1,2.1,4.1&most=2&hand=2", "game=runningtotal&deck=h:1.4"]) {
    await page.goto(`/bench?${query}&s1=2`);
    await expect(page.getByRole("alert").first(), query).toBeVisible();
    await page.getByRole("alert").getByRole("link").first().click();
    await expect(page.getByRole("alert")).toHaveCount(0);
  }
});

test("who says it first takes the cards, and a colour is chosen, by key", async ({ page }) => {
  await page.goto("/bench?game=topper&claim=firstSaid&deck=h:1.2,5.2&s1=2&s2=3");
  await open(page);
  await page.getByRole("button", { name: "on the screen" }).click();
  await expect(page.locator(".turn")).toContainText("Who says it first?");
  // Keys are heard once the page has loaded.
  await page.waitForLoadState();
  await page.keyboard.press("2");
  await expect(page.locator(".order")).toContainText("Mags 2");
  await page.goto("/bench?game=door&level=forehead&claim=firstSaid&winning=compete&rounds=2&s1=2&s2=3");
  await open(page);
  await page.getByRole("button", { name: "on the screen" }).click();
  for (const key of ["2", "n"]) {
    await expect(page.locator(".turn")).toContainText("who says her own first?");
    await page.waitForLoadState();
    const lay = await page.locator("#table").innerHTML();
    await page.keyboard.press(key);
    await answered(page, lay);
  }
  await expect(page.getByText("The end", { exact: true })).toBeVisible();
  await expect(page.locator("#table")).toContainText("Most said first: Mags, with 1");
  await page.goto("/bench?game=gather&colourDie=red/blue&pieces=red.9,blue.9&s1=2");
  await open(page);
  await page.getByRole("button", { name: "on the screen" }).click();
  await expect(page.locator(".turn")).toContainText("Choose a colour.");
  await page.waitForLoadState();
  const before = await page.locator("[data-zone=heap]").innerHTML();
  await page.keyboard.press("2");
  await answered(page, before, "[data-zone=heap]");
});

test("every call is said aloud once that is wished for, and stays so", async ({ page }) => {
  await page.addInitScript(() => {
    window.said = [];
    Object.defineProperty(window, "speechSynthesis", { value: { cancel() {}, speak: (s) => window.said.push(s.text) } });
  });
  await page.goto("/bench?game=somegone&s1=2");
  await open(page);
  await page.getByRole("button", { name: "on the screen" }).click();
  await expect(page.locator(".turn")).toBeVisible();
  expect(await page.evaluate(() => window.said)).toEqual([]);
  await page.keyboard.press("z");
  await expect.poll(() => page.evaluate(() => window.said.length)).toBe(1);
  const first = await page.locator("#table").getAttribute("data-call");
  expect(await page.evaluate(() => window.said[0])).toBe(first);
  await page.keyboard.press("a");
  await expect.poll(() => page.evaluate(() => window.said.length)).toBe(2);
  await page.reload();
  await expect(page.locator("[data-says-calls]")).toHaveAttribute("aria-pressed", "true");
});

test("different dice are evened out, by key, and the change is taken over", async ({ page }) => {
  await page.goto("/bench?game=downline&first=draw&s1=3&s2=2&s2.dice=1.1.2.2.3.3");
  await open(page);
  await expect(page.getByRole("link", { name: "Even it out" })).toBeVisible();
  await page.keyboard.press("e");
  await expect(page.locator("#even")).toContainText("This makes winning even: for Mags a die with 1, 1, 2, 2, 3, 3");
  await expect(page.locator("#even")).toContainText(/Then Mags wins \d+\s% and is right in \d+\s%/);
  await page.getByRole("link", { name: "Change it so" }).click();
  await expect(page).toHaveURL(/headStart|s1\.dice|s2\.dice=(?!1\.1)/);
});

test("whoever sees a called pair first takes it; a board is laid; a row is put in order", async ({ page }) => {
  await page.goto("/bench?game=partners&mode=call&claim=firstSaid&layout=2x3&deck=h:5.8&s1=2&s2=3");
  await open(page);
  await page.getByRole("button", { name: "on the screen" }).click();
  await expect(page.locator(".turn")).toHaveText("Who sees two that make 10?");
  for (const card of ["card 1: 5", "card 2: 5"]) {
    await page.getByRole("button", { name: card }).click();
    await expect(page.getByRole("button", { name: card })).toHaveAttribute("aria-pressed", "true");
  }
  await page.getByRole("button", { name: "Mags", exact: true }).click();
  await expect(page.locator(".order")).toContainText("Mags 2");
  await page.goto("/bench?game=door&level=forehead&claim=firstSaid&winning=compete&rounds=2&s1=2&s2=3");
  await open(page);
  await page.getByRole("button", { name: "on the screen" }).click();
  for (const key of ["2", "n"]) {
    await expect(page.locator(".turn")).toContainText("who says her own first?");
    await page.waitForLoadState();
    const lay = await page.locator("#table").innerHTML();
    await page.keyboard.press(key);
    await answered(page, lay);
  }
  await expect(page.getByText("The end", { exact: true })).toBeVisible();
  await expect(page.locator("#table")).toContainText("Most said first: Mags, with 1");

  await page.goto("/bench?game=panes&boards=laid&values=1-9&formCall=numeral&s1=2&s2=3");
  await open(page);
  await page.getByRole("button", { name: "on the screen" }).click();
  await expect(page.locator(".turn")).toHaveText("Otis: Lay your cards as you like.");
  await page.getByRole("button", { name: /^card \d+: 7$/ }).click();
  await expect(page.getByRole("button", { name: /^card \d+: 7$/ })).toHaveCount(0);
  await page.getByRole("button", { name: "lay the rest by chance" }).click();
  await expect(page.locator(".turn")).toHaveText("Mags: Lay your cards as you like.");
  await page.getByRole("button", { name: "lay the rest by chance" }).click();
  await expect(page.locator(".turn")).toHaveText("Who has it?");
  expect((await new AxeBuilder({ page }).analyze()).violations.map((v) => v.id)).toEqual([]);

  await page.goto("/bench?game=lookalikes&level=lineUp&values=1-3&s1=2");
  await open(page);
  await page.getByRole("button", { name: "on the screen" }).click();
  for (let card = 0; card < 3; card++) {
    await expect(page.locator(".turn")).toHaveText("Otis: Put it where it belongs in the row.");
    const number = Number(await page.locator("[data-board] [aria-label]").evaluateAll((all) => all.map((a) => a.getAttribute("aria-label")).find((l) => /^\d+$/.test(l))));
    await page.getByRole("button", { name: `empty place ${number}`, exact: true }).click();
    await expect(page.getByRole("button", { name: `empty place ${number}`, exact: true })).toHaveCount(0);
  }
  await expect(page.locator(".turn")).toHaveText("Otis: Put it under its own.");
});

test("gates are shut one after another, by mouse and by key, and what each choice leads to is held open", async ({ page }) => {
  await page.goto("/bench?game=gates&s1=2");
  await open(page);
  await expect(page.getByRole("heading", { name: "At the end", exact: true })).toBeVisible();
  await page.getByRole("button", { name: "on the screen" }).click();
  await expect(page.locator(".turn")).toContainText("Which gates make that many?");
  await expect(page.locator("[data-zone=gates]")).toBeVisible();
  expect((await new AxeBuilder({ page }).analyze()).violations.map((v) => v.id)).toEqual([]);
  await page.getByText("Undo, hint, stop and more").click();
  const goes = page.getByRole("button", { name: "Hold for what goes" });
  await expect(goes.locator(".answer")).toContainText(/then in .* all are shut, about \d+ left open/);
  // Whatever was rolled, some gates make it: the first way that is told, by key and by mouse.
  const [first, ...others] = (await goes.locator(".answer").textContent()).split(":")[0].trim().split(/,? and |, /);
  await page.keyboard.press(first);
  for (const gate of others) await page.getByRole("button", { name: `gate ${gate}, open` }).click();
  await expect(page.getByLabel(`gate ${first}, shut`)).toBeAttached();
});

test("on a board of cells what fits is tapped, what does not is told, and the game comes to its end", async ({ page }) => {
  for (const [game, more, asks] of [["nudge", "&cells=1.2&dice=1.2&until=markers:2", "How many? Put your marker on it."], ["hedge", "&rows=2&columns=2&inRow=2&cells=1.2.2.1&dice=1.2", "How many? Choose such a cell."]]) {
    await page.goto(`/bench?game=${game}&s1=2&s2=3${more}`);
    await open(page);
    await expect(page.getByRole("heading", { name: "On the board", exact: true })).toBeVisible();
    await page.getByRole("button", { name: "on the screen" }).click();
    await expect(page.locator(".turn")).toContainText(asks);
    expect((await new AxeBuilder({ page }).analyze()).violations.map((v) => v.id)).toEqual([]);
    const end = page.getByText("The end", { exact: true });
    for (let i = 0; i < 60 && (await end.count()) === 0; i++) {
      const answered = page.waitForResponse((r) => r.request().method() === "POST");
      if ((await page.locator(".turn").innerText()).includes("No cell fits")) await page.keyboard.press("n");
      else await page.locator("[data-zone=cells] button:enabled").nth(i % (await page.locator("[data-zone=cells] button:enabled").count())).click();
      await answered;
      await expect(page.locator(".htmx-request")).toHaveCount(0);
    }
    await expect(end).toBeVisible();
  }
});

// What goes is held open and then tapped, as a grown-up would who is asked for help.
const laid = [
  ["spotsum", "&deck=h:1.4,2.4&layout=2x2", null, /Which two make \d\?/, "card"],
  ["emptyseat", "&deck=h:1.3,9.3&removed=1", "What it tells", /Which make 10\? Cover them\./, "card"],
  ["manymakes", "&stock=1x8&numbers=2-3&calls=2", "In how many ways", /Which bars make \d\?/, "bar"],
  ["targethand", "&deck=h:1.9&hand=3&target=2", "What a hand makes", /Make 2 with your cards\./, "card"],
  ["balance", "&deck=h:1.8,b.2&hand=3&most=2&mat=yes", "How often it goes", /Which one is as much as others together, or which two are the same\?/, "card"],
];

for (const [game, more, heading, asks, thing] of laid)
  test(`${game} is played by tapping what goes, to its end`, async ({ page }) => {
    await page.goto(`/bench?game=${game}&s1=2${more}`);
    await open(page);
    if (heading) await expect(page.getByRole("heading", { name: heading, exact: true })).toBeVisible();
    expect((await new AxeBuilder({ page }).analyze()).violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html).slice(0, 3).join(" | ")}`)).toEqual([]);
    await page.getByRole("button", { name: "on the screen" }).click();
    await expect(page.locator(".turn")).toContainText(asks);
    await page.getByText("Undo, hint, stop and more").click();
    await expect(page.getByRole("button", { name: "Hold for what goes" }).locator(".answer")).toHaveText(/.+/);
    expect((await new AxeBuilder({ page }).analyze()).violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html).slice(0, 3).join(" | ")}`)).toEqual([]);
    const end = page.getByText("The end", { exact: true });
    for (let step = 0; step < 90 && (await end.count()) === 0; step++) {
      const free = page.locator(`[data-board] button.${thing}:enabled:not(.picked)`);
      const before = await page.locator("#table").innerHTML();
      const many = await free.count();
      // Any two of equal cards go; where one does not go with the last, it is told, and another is tried.
      if (many === 0 || (await page.locator(".turn").innerText()).match(/change them|change these|Nothing balances|What is missing/)) await page.keyboard.press("n");
      else await free.nth((step * 5 + Math.floor(step / 3)) % many).click();
      await answered(page, before);
    }
    await expect(end).toBeVisible();
  });

test("sand runs down where a clock is liked, over several turns, and ends a round", async ({ page }) => {
  const play = async () => {
    await page.goto("/bench?game=runningtotal&seconds=10&s1=2");
    await open(page);
    await page.getByRole("button", { name: "on the screen" }).click();
    await expect(page.locator(".turn")).toContainText("Begin with that many.");
  };
  const like = async (clock) => {
    await page.goto("/house");
    await page.locator(`input[name=clock][value=${clock}]`).check();
    await page.getByRole("button", { name: "Keep this approach" }).click();
  };
  await play();
  await expect(page.locator("[data-sand]")).toHaveCount(0);
  await like("own");
  await play();
  expect((await new AxeBuilder({ page }).analyze()).violations.map((v) => v.id)).toEqual([]);
  await page.keyboard.press("g");
  await expect(page.locator("[data-sand-says]")).toHaveText("It runs.");
  await page.keyboard.press("a");
  await expect(page.locator(".turn")).not.toContainText("Begin with that many.");
  await expect(page.locator("[data-sand-says]")).toHaveText("It runs.");
  await expect(page.locator("[data-sand-says]")).toHaveText("The sand has run out.", { timeout: 20_000 });
  await page.getByRole("button", { name: "sand is out" }).click();
  await expect(page.locator(".turn")).toContainText("Begin with that many.");
  await like("none");
});

test("two dice that were rolled are entered in two taps, and a real card of a chain is named", async ({ page }) => {
  await page.goto("/bench?game=rolltell&level=more&rounds=2&s1=2");
  await open(page);
  await page.getByRole("button", { name: "refereed" }).click();
  await page.locator("#n-3").click();
  await expect(page.locator("#table")).toContainText("3 and …");
  await page.locator("#n-5").click();
  await expect(page.locator(".turn")).toContainText("Which shows more, or are they the same?");
  await page.keyboard.down("o");
  await expect(page.locator(".answer").first()).toHaveText("5 > 3");
  await page.keyboard.up("o");
  await page.goto("/bench?game=chaincall&relation=partner%3A10&level=partner&s1=2&s2=3");
  await open(page);
  await page.getByRole("button", { name: "just notes" }).click();
  await expect(page.locator("[data-keys]")).toContainText("Which number? Tap it, or leave it out.");
  for (const n of [1, 4, 6, 9]) await expect(page.locator(`#named-${n}`)).toBeVisible();
});

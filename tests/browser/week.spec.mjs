import { readFileSync } from "node:fs";
import ICAL from "ical.js";
import { expect, test } from "./house.mjs";

// The week that comes: all of it is planned.
async function nextWeek(page) {
  await page.goto("/week");
  await expect(page.locator(".week-sitting").first()).toBeVisible(PLANNING);
  await page.getByRole("link", { name: "Week after" }).click();
  await expect(page).toHaveURL(/from=/);
  await expect(page.locator(".week-sitting").first()).toBeVisible(PLANNING);
}

// Planning two weeks anew takes a moment, beside other tests a longer one.
const PLANNING = { timeout: 30_000 };

const said = (page, words) => expect(page.locator("#said")).toHaveText(words, PLANNING);
const planned = (page) => page.locator(".week-sitting");

test("a sitting is opened, moved, swapped, kept, and left out", async ({ page }) => {
  await nextWeek(page);
  const many = await planned(page).count();
  expect(many).toBeGreaterThan(4);
  const first = planned(page).first().getByRole("link");
  const id = await first.getAttribute("id");
  await first.click();
  await expect(page.getByRole("heading", { level: 2, name: /:/ })).toBeVisible();
  const game = await page.locator(`#${id}`).textContent();
  await page.getByRole("button", { name: "Another game" }).click();
  await said(page, "Another game is planned.");
  await expect(page.locator(`#${id}`)).not.toHaveText(game, PLANNING);
  await page.getByRole("button", { name: "Keep it as it is" }).click();
  await said(page, "It stays as it is.");
  await expect(page.getByRole("button", { name: "Plan it anew" })).toBeVisible();
  const day = page.locator(".week-strip > li").filter({ has: page.locator(`#${id}`) });
  const before = await day.getAttribute("aria-label");
  await page.getByRole("group", { name: "Move it to" }).getByRole("button").last().click();
  await said(page, "Moved. The rest is planned around it.");
  expect(await day.getAttribute("aria-label")).not.toBe(before);
  await page.getByRole("button", { name: "Leave it out" }).click();
  await expect(page.locator(`#${id}`)).toHaveText("Left out", PLANNING);
  await page.getByRole("button", { name: "Take it in again" }).click();
  await expect(page.locator(`#${id}`)).not.toHaveText("Left out", PLANNING);
  expect(await planned(page).count()).toBe(many);
});

test("all of it goes by keyboard, and the focus stays", async ({ page }) => {
  await nextWeek(page);
  const second = planned(page).nth(1).getByRole("link");
  const id = await second.getAttribute("id");
  await second.focus();
  await page.keyboard.press("Enter");
  await expect(page.locator(".week-open")).toBeVisible();
  await expect(page.locator(`#${id}`)).toBeFocused();
  await page.keyboard.press("a");
  await said(page, "Another game is planned.");
  await page.keyboard.press("k");
  await said(page, "It stays as it is.");
  await expect(page.locator("#keep")).toBeFocused();
  await page.keyboard.press("o");
  await expect(page.locator(`#${id}`)).toHaveText("Left out", PLANNING);
  await page.keyboard.press("Escape");
  await expect(page.locator(".week-open")).toBeHidden(PLANNING);
});

test("who is there and how long is changed for once and for each week", async ({ page }) => {
  await nextWeek(page);
  await planned(page).first().getByRole("link").click();
  const open = page.locator(".week-open");
  await open.getByRole("combobox").selectOption("20");
  await open.getByLabel("Grandad Pell").check();
  await open.getByLabel("about").fill("tea");
  await open.getByRole("button", { name: "Change it for this once" }).click();
  await expect(page.getByRole("alert").filter({ hasText: "17:30" })).toContainText("Nothing was changed.", PLANNING);
  // What was typed stays, and is put right.
  await expect(open.getByLabel("about")).toHaveValue("tea");
  await expect(open.getByRole("combobox")).toHaveValue("20");
  await open.getByLabel("about").fill("17:45");
  await open.getByRole("button", { name: "Change it for this once" }).click();
  await expect(planned(page).first()).toContainText("20 minutes at 17:45", PLANNING);
  await page.getByText("How your weeks usually go").click();
  await page.getByRole("button", { name: "No play on a" }).first().click();
  await said(page, "Kept for each week.");
});

test("the calendar file is read by another reader, and bringing it in again doubles nothing", async ({ page }, info) => {
  test.skip(info.project.name !== "laptop", "the same file at every width");
  await nextWeek(page);
  const read = async () => {
    const [file] = await Promise.all([page.waitForEvent("download"), page.getByRole("link", { name: "As a calendar file" }).click()]);
    const calendar = new ICAL.Component(ICAL.parse(readFileSync(await file.path(), "utf8")));
    return calendar.getAllSubcomponents("vevent").map((e) => new ICAL.Event(e));
  };
  const before = await read();
  // What was given up before is cancelled in the file, and no longer stands in the week.
  const standing = before.filter((e) => e.component.getFirstPropertyValue("status") !== "CANCELLED");
  expect(standing.length).toBe(await page.locator(".week-sitting:not(.out)").count());
  for (const event of before) {
    expect(event.summary).toMatch(/: /);
    expect(event.duration.toSeconds()).toBeGreaterThan(0);
  }
  await planned(page).first().getByRole("link").click();
  await page.getByRole("group", { name: "Move it to" }).getByRole("button").last().click();
  await said(page, "Moved. The rest is planned around it.");
  const after = await read();
  expect(after.map((e) => e.uid).sort()).toEqual(before.map((e) => e.uid).sort());
  const moved = after.filter((e) => before.find((b) => b.uid === e.uid).startDate.compare(e.startDate) !== 0);
  expect(moved.length).toBe(1);
  expect(moved[0].sequence).toBeGreaterThan(before[0].sequence);
});

/** On a phone the forecast is a strip that opens. */
export async function open(page) {
  // Before styles have come it is visible at every width.
  await page.waitForLoadState("load");
  const strip = page.locator("#forecast-strip > summary");
  if (await strip.isVisible()) await strip.click();
}

/** On a phone the forecast is a strip that opens. */
export async function open(page) {
  const strip = page.locator("#forecast-strip > summary");
  if (await strip.isVisible()) await strip.click();
}

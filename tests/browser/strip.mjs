/** On a phone the forecast is a strip that opens. */
export async function open(page) {
  // Before styles have come it is visible at every width.
  await page.waitForLoadState("load");
  const strip = page.locator("#forecast-strip > summary");
  if (await strip.isVisible()) await strip.click();
}

/** Opens the drawer of the table, where undo, hint, stop and the rest lie. */
export async function drawer(page) {
  await page.waitForLoadState("load");
  if ((await page.locator("#drawer").getAttribute("open")) === null) await page.locator("#drawer > summary").click();
}

/** How many marks of a picture lie within a card of the drawing. */
export async function marks(card) {
  return card.evaluate((button) => {
    const room = button.getBoundingClientRect();
    const inside = (m) => {
      const box = m.getBoundingClientRect();
      const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
      return x > room.left && x < room.right && y > room.top && y < room.bottom;
    };
    return [...button.closest("svg").querySelectorAll(".counts")].filter(inside).length;
  });
}

/** Waits until what was done has been answered, and a part of the table is another than it was. */
export async function answered(page, before, part = "#table") {
  await page.evaluate(
    ([part, before]) =>
      new Promise((done) => {
        const look = () => (!document.querySelector(".htmx-request, .htmx-swapping, .htmx-settling") && document.querySelector(part)?.innerHTML !== before ? done() : requestAnimationFrame(look));
        look();
      }),
    [part, before],
  );
}

// Small movements show what happened on the table: a card turns, a piece walks place by place, cards go to who took them.
// None where less motion is wished.
"use strict";
{
  const STEP = 260, LONGEST = 2600, TURN = 240, GO = 520;
  const still = matchMedia("(prefers-reduced-motion: reduce)");

  const seen = () => {
    const parts = new Map();
    for (const part of document.querySelectorAll("[data-board] [data-of]")) parts.set(part.dataset.of, { part, box: part.getBoundingClientRect(), at: part.dataset.at });
    return parts;
  };

  const taken = () => [...document.querySelectorAll("#table .order li")].map((li) => Number(li.querySelector(".quiet")?.textContent ?? 0));

  const middle = (box) => [box.x + box.width / 2, box.y + box.height / 2];

  // In the millimetres of the drawing, from a box on the screen to where a part lies.
  const offset = (from, to, scale) => {
    const [[ax, ay], [bx, by]] = [middle(from), middle(to)];
    return `translate(${(ax - bx) / scale}px, ${(ay - by) / scale}px)`;
  };

  let before = null;
  let had = [];
  document.addEventListener("htmx:before:swap", () => {
    before = still.matches ? null : seen();
    had = taken();
  });

  document.addEventListener("htmx:after:swap", () => {
    const drawing = document.querySelector("[data-board] svg.drawing");
    if (!before || !drawing || still.matches) return;
    const now = seen();
    const scale = drawing.getScreenCTM().a;
    for (const [name, { part, box, at }] of now) {
      const was = before.get(name);
      if (!was) continue;
      if (name.startsWith("piece") && was.at !== at) walk(part, Number(was.at), Number(at), now, box, scale);
      else if (name.startsWith("card") && was.at !== at) part.animate([{ transform: "scaleX(0)" }, { transform: "none" }], { duration: TURN, easing: "ease-out" });
      else if (name.startsWith("card") && (Math.abs(was.box.x - box.x) > 2 || Math.abs(was.box.y - box.y) > 2)) part.animate([{ transform: offset(was.box, box, scale) }, { transform: "none" }], { duration: GO, easing: "ease-in-out" });
    }
    const who = taken().findIndex((n, seat) => n > (had[seat] ?? 0));
    const chip = document.querySelectorAll("#table .order li")[who];
    if (chip) for (const [name, was] of before) if (name.startsWith("card") && !now.has(name)) leave(was, chip, drawing, scale);
    before = null;
  });

  // From place to place, so that a child can count along.
  function walk(part, from, to, now, box, scale) {
    const way = Math.sign(to - from);
    const frames = [];
    for (let place = from; place !== to + way; place += way) {
      const there = now.get(`place ${place}`);
      if (there) frames.push({ transform: place === to ? "none" : offset(there.box, now.get(`place ${to}`)?.box ?? box, scale) });
    }
    if (frames.length > 1) part.animate(frames, { duration: Math.min(LONGEST, STEP * frames.length), easing: "linear" });
  }

  function leave(was, chip, drawing, scale) {
    const ghost = was.part.cloneNode(true);
    ghost.removeAttribute("data-of");
    drawing.append(ghost);
    const here = ghost.getBoundingClientRect();
    const start = offset(was.box, here, scale);
    const end = offset(chip.getBoundingClientRect(), here, scale);
    ghost.animate([{ transform: start, opacity: 1 }, { transform: `${end} scale(.3)`, opacity: 0 }], { duration: GO, easing: "ease-in" }).finished.finally(() => ghost.remove());
  }
}

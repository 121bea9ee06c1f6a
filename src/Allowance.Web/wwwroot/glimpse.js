// Glimpse: a picture for a moment, then a cover. Frames are counted by the browser's clock, and what it really took goes
// with the note.
"use strict";

// Pictures change no more than three times a second.
const LEAST_BETWEEN = 334;

let lastChange = -Infinity;

const stage = () => document.querySelector("[data-glimpse]");

// The stage that was there last, and the one on which a picture is being shown.
let current = stage();
let looking = null;

// Rings that are drawn, and the one under the pen.
let drawn = [];
let stroke = null;

// The next picture comes with a new stage: the last one went away just now.
function renew() {
  if (stage() === current) return;
  current = stage();
  looking = null;
  drawn = [];
  stroke = null;
  lastChange = performance.now();
}

function reveal(name, now) {
  const here = stage();
  for (const layer of here.querySelectorAll("[data-layer]")) layer.hidden = layer.dataset.layer !== name;
  here.dataset.phase = name;
  lastChange = now;
}

// Waits for the first frame on which another change is calm enough.
function whenCalm(act) {
  requestAnimationFrame(function wait(now) {
    if (now - lastChange >= LEAST_BETWEEN) act(now);
    else requestAnimationFrame(wait);
  });
}

function show(again) {
  renew();
  const here = stage();
  if (!here || looking) return;
  looking = here;
  const wanted = Number(here.dataset.ms);
  whenCalm((start) => {
    if (looking !== here) return;
    reveal("picture", start);
    let last = start;
    requestAnimationFrame(function frame(now) {
      if (looking !== here) return;
      // It ends on the frame that is nearest to the time wanted.
      if (now - start < wanted - (now - last) / 2) {
        last = now;
        requestAnimationFrame(frame);
        return;
      }
      looking = null;
      // What is read, not seen at a glance, stays in view, and no time is kept of it.
      if (here.dataset.stays) {
        seen("", again);
        return;
      }
      reveal("cover", now);
      seen(Math.round(now - start), again);
    });
  });
}

function seen(shown, again) {
  for (const field of document.querySelectorAll("[data-shown]")) field.value = shown;
  for (const field of document.querySelectorAll("[data-again]")) field.value = again ? "true" : "false";
  for (const part of document.querySelectorAll("[data-after-look]")) part.hidden = false;
  document.getElementById("show").hidden = true;
  document.getElementById("again")?.focus();
  if (shown !== "") document.getElementById("said").textContent = "Covered.";
}

// Nobody looks at a page that lies hidden: the picture is put away, and nothing is noted.
document.addEventListener("visibilitychange", () => {
  if (!document.hidden || !looking) return;
  looking = null;
  reveal("ready", performance.now());
});

// Rings round the groups she saw: the picture comes back, and every closed stroke takes the marks inside it.
const overlay = () => document.querySelector("[data-rings]");

function ring() {
  whenCalm((now) => {
    reveal("picture", now);
    stage().dataset.ringing = "";
    document.getElementById("clear-rings").hidden = false;
  });
}

function clearRings() {
  drawn = [];
  overlay()?.replaceChildren();
  tellGroups();
}

const inside = (x, y, points) => points.reduce((odd, [x1, y1], i) => {
  const [x2, y2] = points[(i + 1) % points.length];
  return y1 > y !== y2 > y && x < ((x2 - x1) * (y - y1)) / (y2 - y1) + x1 ? !odd : odd;
}, false);

function tellGroups() {
  const select = document.querySelector("[data-groups]");
  if (!select) return;
  const marks = [...stage().querySelectorAll("[data-layer=picture] .counts")].map((m) => m.getBoundingClientRect()).map((b) => [b.x + b.width / 2, b.y + b.height / 2]);
  const taken = new Set();
  const groups = [];
  for (const points of drawn) {
    const mine = marks.map((m, i) => i).filter((i) => !taken.has(i) && inside(...marks[i], points));
    mine.forEach((i) => taken.add(i));
    if (mine.length > 0) groups.push(mine.length);
  }
  if (groups.length > 0 && taken.size < marks.length) groups.push(marks.length - taken.size);
  const says = groups.sort((a, b) => b - a).join("+");
  if (![...select.options].some((o) => o.value === says)) select.add(new Option(says.replaceAll("+", " and "), says));
  select.value = says;
  document.getElementById("said").textContent = says.length > 0 ? says.replaceAll("+", " and ") : "";
}

const at = (event) => [event.clientX, event.clientY];

document.addEventListener("pointerdown", (event) => {
  const svg = overlay();
  if (!svg || !event.target.closest?.("[data-ringing]")) return;
  event.preventDefault();
  const box = svg.getBoundingClientRect();
  stroke = { points: [at(event)], line: document.createElementNS("http://www.w3.org/2000/svg", "polygon"), box };
  svg.append(stroke.line);
});
document.addEventListener("pointermove", (event) => {
  if (!stroke) return;
  stroke.points.push(at(event));
  stroke.line.setAttribute("points", stroke.points.map(([x, y]) => `${x - stroke.box.x},${y - stroke.box.y}`).join(" "));
});
document.addEventListener("pointerup", () => {
  if (!stroke) return;
  if (stroke.points.length > 2) drawn.push(stroke.points);
  else stroke.line.remove();
  stroke = null;
  tellGroups();
});

document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-show], [data-ring], [data-ring-clear]");
  if (!button) return;
  if ("show" in button.dataset) show(button.dataset.show === "again");
  else if ("ring" in button.dataset) ring();
  else clearRings();
});

document.addEventListener("htmx:after:swap", renew);

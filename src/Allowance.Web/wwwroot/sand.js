// Sand that runs down, without a sound: it is turned over by hand, and runs on while the table is swapped around it.
"use strict";

const UPPER = 25;
let running = null;

function run() {
  const sand = document.getElementById("sand");
  if (!sand?.dataset.start) return stopRunning();
  const left = Math.max(0, 1 - (performance.now() - Number(sand.dataset.start)) / 1000 / Number(sand.dataset.sand));
  const upper = sand.querySelector("[data-sand-upper]");
  const lower = sand.querySelector("[data-sand-lower]");
  upper.setAttribute("y", 6 + UPPER * (1 - left));
  upper.setAttribute("height", UPPER * left);
  lower.setAttribute("y", 58 - UPPER * (1 - left));
  lower.setAttribute("height", UPPER * (1 - left));
  if (left > 0) return;
  sand.querySelector("[data-sand-says]").textContent = "The sand has run out.";
  delete sand.dataset.start;
  stopRunning();
}

function stopRunning() {
  clearInterval(running);
  running = null;
}

document.addEventListener("click", (event) => {
  if (!event.target.closest?.("[data-sand-turn]")) return;
  const sand = document.getElementById("sand");
  sand.dataset.start = String(performance.now());
  sand.querySelector("[data-sand-says]").textContent = "It runs.";
  // Twice a second is smooth enough for sand, and calm.
  running ??= setInterval(run, 500);
  run();
});

// Behaviour that HTML cannot say by itself: keys, focus after a swap, and what is announced.
"use strict";

const typing = (element) => element instanceof HTMLElement && (element.isContentEditable || /^(input|textarea|select)$/i.test(element.tagName) && element.type !== "radio" && element.type !== "checkbox");

const keyed = () => [...document.querySelectorAll("[data-key]")].filter((e) => e.offsetParent !== null && !e.disabled);

// Every element with data-key is pressed by that key.
document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target) || document.querySelector("dialog[open]")) return;
  if (event.key === "?") {
    showKeys();
    event.preventDefault();
    return;
  }
  const element = keyed().find((e) => e.dataset.key === event.key);
  if (!element) return;
  event.preventDefault();
  element.focus();
  element.click();
});

// The answer shows only while it is held down, by finger, mouse or key.
const hold = (element, held) => element.classList.toggle("held", held);
document.addEventListener("keydown", (event) => {
  if (event.target.matches?.("[data-hold]") && (event.key === " " || event.key === "Enter" || event.key === event.target.dataset.key)) hold(event.target, true);
});
document.addEventListener("keyup", () => document.querySelectorAll(".held").forEach((e) => hold(e, false)));

function showKeys() {
  const list = document.getElementById("keys-list");
  list.replaceChildren();
  const entries = keyed().map((e) => [e.dataset.key, e.dataset.keySays || e.getAttribute("aria-label") || e.textContent.trim()]);
  for (const [key, says] of [["?", "these keys"], ...entries]) {
    const dt = document.createElement("dt");
    const dd = document.createElement("dd");
    dt.textContent = key;
    dd.textContent = says;
    list.append(dt, dd);
  }
  document.getElementById("keys").showModal();
}

document.addEventListener("click", (event) => {
  if (event.target.closest("[data-keys-open]")) showKeys();
});

// Selects and fields marked data-send post or fetch their form as soon as they change; htmx takes it from there.
document.addEventListener("change", (event) => {
  const form = event.target.closest("form[data-send]");
  if (form) form.requestSubmit();
});

// After a swap the focus stays where it was: htmx keeps it by id; what was replaced says where it should go.
document.addEventListener("htmx:after:swap", () => {
  const said = document.querySelector("[data-say]");
  const status = document.getElementById("said");
  if (said && status.textContent !== said.dataset.say) status.textContent = said.dataset.say;
  if (document.activeElement === document.body) document.querySelector("[data-focus]")?.focus();
});

// A post that did not arrive is tried again until it does; its id makes a repetition harmless.
document.addEventListener("submit", (event) => {
  event.target.pressed = event.submitter;
}, true);

document.addEventListener("htmx:error", (event) => {
  const source = event.target instanceof HTMLElement ? event.target : null;
  const form = source?.closest("form[data-durable]");
  if (!form) return;
  form.classList.add("waiting");
  document.getElementById("said").textContent = "Not sent yet; trying again.";
  setTimeout(() => (source === form ? form.requestSubmit(form.pressed) : source.click()), 2000);
});

// A tap at the table while the last one is still under way waits its turn, and is then made on what stands there.
let underWay = 0;
const waiting = [];
const LONGEST = 5000;

document.addEventListener("htmx:before:request", (event) => {
  if (event.target.closest?.("#table")) underWay = Date.now();
});

document.addEventListener("click", (event) => {
  const button = event.target.closest("#table form[data-durable] button[id]");
  if (!button || Date.now() - underWay > LONGEST) return;
  event.preventDefault();
  event.stopImmediatePropagation();
  waiting.push(button.id);
}, true);

document.addEventListener("htmx:finally:swap", () => {
  underWay = 0;
  setTimeout(() => {
    const button = document.getElementById(waiting.shift() ?? "");
    if (button && !button.disabled) button.click();
  });
});

document.addEventListener("htmx:error", () => {
  underWay = 0;
  waiting.length = 0;
});

document.addEventListener("click", (event) => {
  if (event.target.closest("[data-print]")) window.print();
});

// Numbers and calls said aloud by the browser's own voice; where it has none, nothing offers it.
const speak = (words) => {
  const said = new SpeechSynthesisUtterance(words);
  said.lang = document.documentElement.lang;
  speechSynthesis.cancel();
  speechSynthesis.speak(said);
};
// Calls are said by themselves once that is wished for, each one when it comes.
const saysCalls = () => localStorage.getItem("says-calls") === "yes";
let lastCall = null;
const sayCall = () => {
  const table = document.querySelector("#table[data-call]");
  const call = table ? `${table.dataset.turn} ${table.dataset.call}` : null;
  if (call !== null && call !== lastCall && saysCalls()) speak(table.dataset.call);
  lastCall = call;
};
const offerSpeech = () => {
  if (!("speechSynthesis" in window)) return;
  document.querySelectorAll("[data-speak][hidden], [data-says-calls][hidden]").forEach((e) => (e.hidden = false));
  document.querySelectorAll("[data-says-calls]").forEach((e) => e.setAttribute("aria-pressed", saysCalls()));
  sayCall();
};
offerSpeech();
document.addEventListener("htmx:after:swap", offerSpeech);
document.addEventListener("click", (event) => {
  const words = event.target.closest("[data-speak]")?.dataset.speak;
  if (words) speak(words);
  if (!event.target.closest("[data-says-calls]")) return;
  localStorage.setItem("says-calls", saysCalls() ? "no" : "yes");
  lastCall = null;
  offerSpeech();
});

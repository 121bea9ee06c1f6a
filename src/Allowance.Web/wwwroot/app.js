// Behaviour that HTML cannot say by itself: keys, focus after a swap, and what is announced.
"use strict";

// A table is drawn for the room its board has: how much that is, is told once it was seen here.
const tell = (room) => (document.cookie = `board=${room.join("x")}; path=/; max-age=31536000; samesite=strict`);
const tellRoom = () => {
  const board = document.querySelector("[data-board]");
  const told = (document.cookie.match(/(?:^|; )board=(\d+)x(\d+)/) ?? []).slice(1).map(Number);
  if (!board) {
    // Before a table was ever seen here, what it will leave to its board is guessed.
    const [w, h] = innerWidth >= 1000 ? [311, 63] : innerWidth > 640 ? [19, 351] : [13, 414];
    if (told.length === 0) tell([innerWidth - w, innerHeight - h]);
    return;
  }
  if (board.offsetParent === null) return;
  const now = [board.clientWidth, board.clientHeight];
  // What differs little is drawn alike.
  if (told.length === 2 && now.every((side, i) => Math.abs(side - told[i]) < 0.06 * side)) return;
  tell(now);
  const picked = document.querySelector("[data-board] input[name=sel]")?.value ?? "";
  htmx.ajax("GET", `${location.pathname}?sel=${picked}`, { source: "#table", target: "#table", swap: "outerHTML" });
};
let resized;
addEventListener("resize", () => {
  clearTimeout(resized);
  resized = setTimeout(tellRoom, 200);
});
addEventListener("load", tellRoom);

const typing = (element) => element instanceof HTMLElement && (element.isContentEditable || /^(input|textarea|select)$/i.test(element.tagName) && element.type !== "radio" && element.type !== "checkbox");

// What lies in the drawer has its keys also while that is shut.
const keyed = () => [...document.querySelectorAll("[data-key]")].filter((e) => !e.disabled && !e.hidden && (e.offsetParent !== null || e.closest("[data-drawer]")));

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

// What was not taken is said to be so, stays marked, and goes again.
const UNSENT = "unsent";

const tellUnsent = (words, reload = false) => {
  const box = document.getElementById("unsent");
  box.hidden = words === null;
  box.querySelector("p").textContent = words ?? "";
  box.querySelector("button").hidden = !reload;
};

// With its id, and without the proof that was too old: after the page was loaded again it is sent by that one's.
const keepUnsent = (source, form) => {
  const button = source === form ? form.pressed : source;
  const fields = new FormData(form, button?.form === form && button.name ? button : null);
  fields.delete("__RequestVerificationToken");
  sessionStorage.setItem(UNSENT, JSON.stringify({ url: source.getAttribute("hx-post") ?? form.getAttribute("hx-post"), fields: [...fields] }));
};

const notTaken = (event, status, said) => {
  const source = event.target instanceof HTMLElement ? event.target : null;
  const form = source?.closest("form[data-durable]");
  if (!form) return;
  const lost = status === 400;
  const passing = status === undefined || status >= 500 || status === 429;
  form.classList.toggle("waiting", lost || passing);
  if (lost || passing) keepUnsent(source, form);
  tellUnsent(lost ? "Not noted: this page is too old to be taken. Reload it; what you tapped goes again." : `Not noted. ${said ?? (passing ? "Allowance does not answer." : "It was not taken.")}${passing ? " Trying again." : ""}`, lost);
  if (passing) setTimeout(() => form.isConnected && (source === form ? form.requestSubmit(form.pressed) : source.click()), 2000);
};

document.addEventListener("htmx:error", (event) => notTaken(event));

document.addEventListener("htmx:response:error", (event) => {
  const { response, text } = event.detail.ctx;
  notTaken(event, response.status, new DOMParser().parseFromString(text ?? "", "text/html").querySelector("[data-trouble]")?.textContent);
});

document.addEventListener("htmx:after:swap", (event) => {
  if (!document.querySelector("form.waiting")) {
    sessionStorage.removeItem(UNSENT);
    tellUnsent(null);
  }
});

document.addEventListener("click", (event) => {
  if (event.target.closest("#unsent button")) location.reload();
});

const sendUnsent = async () => {
  const unsent = JSON.parse(sessionStorage.getItem(UNSENT) ?? "null");
  if (!unsent?.url || !document.getElementById("table")) return;
  const body = new URLSearchParams(unsent.fields);
  const headers = { ...JSON.parse(document.body.getAttribute("hx-headers:inherited")), "HX-Request": "true" };
  const response = await fetch(unsent.url, { method: "POST", headers, body }).catch(() => null);
  if (response === null || response.status >= 500) return;
  sessionStorage.removeItem(UNSENT);
  if (response.ok) location.reload();
};
sendUnsent();

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

for (const failed of ["htmx:error", "htmx:response:error"]) {
  document.addEventListener(failed, () => {
    underWay = 0;
    waiting.length = 0;
  });
}

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

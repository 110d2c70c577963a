// Clocks that tick between two answers of the server, whose time counts: a tablet that slept catches up at once.

import { word } from "./words.js";

const BEEP_EVERY_MS = { call: 6000, alarm: 1500 };
const SECONDS_IN_LAST_MIN = 2; // before a call
const ALONE_AFTER_MS = 5000;
let audio = null;
let lastBeep = 0;
let keptAt = Number(document.documentElement.dataset.kept); // a page that this tablet kept was answered then

function offset(root) {
  // How far the server's clock is from this machine's, measured once an answer.
  if (root.dataset.seen !== root.dataset.now) {
    root.dataset.seen = root.dataset.now;
    root.dataset.offset = Number(root.dataset.now) - (keptAt || Date.now());
    keptAt = 0;
  }
  return Number(root.dataset.offset);
}

function tick() {
  const root = document.querySelector("[data-now]");
  if (!root) return;
  const now = Date.now() + offset(root);
  let due = false;
  for (const card of root.querySelectorAll("[data-applied]")) {
    const seconds = Math.max(0, Math.floor((now - Number(card.dataset.applied)) / 1000));
    const elapsed = card.querySelector("[data-elapsed]");
    const next = card.dataset.due.split(" ").filter(Boolean).map(Number);
    const left = Math.min(...next.map((at) => at - now).filter((ms) => ms > 0), Infinity);
    const exact = seconds < 60 || left < 60_000 * SECONDS_IN_LAST_MIN;
    const text = exact ? `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}` : `${Math.floor(seconds / 60)} min`;
    if (elapsed && elapsed.textContent !== text) elapsed.textContent = text;
    const share = Math.min((100 * seconds) / 60 / Number(card.dataset.barMin), 100);
    card.querySelector("[data-fill]")?.setAttribute("width", share.toFixed(1));
    if (next.some((at) => at <= now)) {
      card.dataset.due = next.filter((at) => at > now).join(" ");
      due = true;
    }
    callAlone(root, card, now);
  }
  if (due) root.dispatchEvent(new Event("due"));
  sound(root.dataset.calling);
}

// A call that the server does not tell of in time is told by the tablet: hair does not wait for a connection.
function callAlone(root, card, now) {
  const passed = JSON.parse(card.dataset.calls ?? "[]").filter(([at]) => at < now - ALONE_AFTER_MS).at(-1);
  if (!passed || card.dataset.alone === String(passed[0])) return;
  const [at, words, isStop] = passed, said = card.querySelector(".clock-words");
  card.dataset.alone = String(at);
  card.classList.add(isStop ? "clock-alarm" : "clock-calls");
  if (root.dataset.calling !== "alarm") root.dataset.calling = isStop ? "alarm" : "call";
  said.setAttribute("role", "alert");
  said.replaceChildren(Object.assign(document.createElement("b"), { textContent: word("call", { what: words }) }));
}

// A clock that was started here without connection runs from its tap; the records have it once they answer.
let starts = [];
document.addEventListener("outbox:told", ({ detail }) => {
  starts = detail.waiting.map(({ path, values, at }) => ({ path, zone: Object.fromEntries(values).zone, at }));
  showStarts();
});

function showStarts() {
  for (const form of document.querySelectorAll("form.clock-idle")) {
    const start = starts.find(({ path, zone }) => path === form.getAttribute("hx-post") && zone === form.elements.zone?.value);
    const button = form.querySelector("button:not([type=button])");
    if (!button) continue; // a gate is shut: there is nothing to start
    button.hidden = Boolean(start);
    let said = form.querySelector("[data-alone]");
    if (!start) {
      said?.remove();
      continue;
    }
    said ??= form.insertBefore(Object.assign(document.createElement("p"), { className: "clock-time figure" }), form.children[3] ?? null);
    said.dataset.alone = "";
    const seconds = Math.floor((Date.now() - start.at) / 1000), text = `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
    if (said.textContent !== text) said.textContent = text;
  }
}
setInterval(() => starts.length && showStarts(), 500);

function sound(calling) {
  if (!audio || !calling || Date.now() - lastBeep < BEEP_EVERY_MS[calling]) return;
  lastBeep = Date.now();
  const tone = audio.createOscillator();
  const volume = audio.createGain();
  tone.frequency.value = calling === "alarm" ? 880 : 587;
  volume.gain.setValueAtTime(0.25, audio.currentTime);
  volume.gain.exponentialRampToValueAtTime(0.001, audio.currentTime + 0.5);
  tone.connect(volume).connect(audio.destination);
  tone.start();
  tone.stop(audio.currentTime + 0.5);
}

function showSound() {
  const button = document.getElementById("sound");
  button?.setAttribute("aria-pressed", String(audio !== null));
}

// A page that another led to may sound at once where that one was touched: a tablet that locks itself goes on calling.
function soundAgain() {
  if (localStorage.getItem("sound") !== "on" || !navigator.userActivation) return;
  const tried = new AudioContext();
  if (tried.state === "running") audio = tried;
  else tried.close();
  showSound();
}

document.addEventListener("click", (event) => {
  if (!event.target.closest("#sound")) {
    // A browser lets a page sound only after a touch: any touch will do once sound was asked for.
    if (!audio && localStorage.getItem("sound") === "on") audio = new AudioContext();
  } else if (audio) {
    audio.close();
    audio = null;
    localStorage.setItem("sound", "off");
  } else {
    audio = new AudioContext();
    localStorage.setItem("sound", "on");
  }
  showSound();
});
document.addEventListener("htmx:afterSettle", showSound);
document.addEventListener("visibilitychange", () => {
  if (!document.hidden) document.querySelector("[data-now]")?.dispatchEvent(new Event("shown"));
});
soundAgain();
setInterval(tick, 250);
tick();

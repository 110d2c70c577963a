// The scale under the bowl lives where it is plugged in: at the tablet. Only what is weighed goes to the server.
//
// Any scale has read(), which tells grams since the last tare and whether they stand still, or throws why it does not, by
// a word of the page's own; and tare(), which calls what lies on it nothing. This one is simulated: what lies on its pan is
// told to it, it trembles, settles, and has faults on request.

import { newToken } from "./outbox.js";
import { weighed, word } from "./words.js";

const STEP_G = 0.1, NOISE_G = 0.02, SETTLES_MS = 1000, DRIFT_G_PER_S = 0.02, MOST_G = 3000, LOAD_MOST_G = 5000;
const SHOWN_EVERY_MS = 200, TWICE_MS = 1000, WAITS_MS = 2500;
const KEY = "scale"; // of the tab: the pan goes along from page to page

class SimulatedScale {
  #pan = JSON.parse(sessionStorage.getItem(KEY) ?? '{"load":0,"tare":0,"at":0,"fault":"none"}');

  get fault() {
    return this.#pan.fault;
  }

  get tared() {
    return this.#pan.tare;
  }

  read() {
    const { load, tare, at, fault } = this.#pan, restedMs = Date.now() - at;
    if (fault === "unplugged") throw new Error("notThere");
    if (load > MOST_G) throw new Error("overload");
    const stable = restedMs >= SETTLES_MS && fault !== "unsteady";
    const drift = fault === "drifts" ? (DRIFT_G_PER_S * restedMs) / 1000 : 0;
    // At rest it trembles by less than half a step: what it has shown at rest it says again.
    const shown = load - tare + drift + (stable ? NOISE_G * (2 * Math.random() - 1) : 10 * NOISE_G * bell());
    return { grams: Math.round(shown / STEP_G) * STEP_G, stable };
  }

  tare(grams = this.#pan.load) {
    this.#change({ tare: grams });
  }

  put(grams) {
    this.#change({ load: Math.round(Math.min(Math.max(this.#pan.load + grams, 0), LOAD_MOST_G) * 100) / 100 });
  }

  fail(fault) {
    this.#pan.fault = fault;
    this.#keep();
  }

  #change(more) {
    Object.assign(this.#pan, more, { at: Date.now() });
    this.#keep();
  }

  #keep() {
    sessionStorage.setItem(KEY, JSON.stringify(this.#pan));
  }
}

// A normal number (Box and Muller).
const bell = () => Math.sqrt(-2 * Math.log(1 - Math.random())) * Math.cos(2 * Math.PI * Math.random());

const scale = new SimulatedScale();
let takenAt = 0; // when a weight was last handed on
let waitsSince = 0; // since when a press waits for the weight to rest
let isAgain = false; // whether that press is tried again, by no hand
const handed = new Map(); // the token of each weight that waits for its answer -> the grams that were tared away with it

const text = (box, name, words) => {
  const place = box.querySelector(`[data-${name}]`);
  if (place && place.textContent !== words) place.textContent = words;
};

function show() {
  const box = document.querySelector("[data-scale]");
  if (!box) return;
  let seen = null, fault = "";
  try {
    seen = scale.read();
  } catch (wrong) {
    fault = word(wrong.message);
  }
  text(box, "fault", fault);
  box.toggleAttribute("data-silent", Boolean(fault));
  if (seen) {
    const grams = Math.abs(seen.grams) < STEP_G / 2 ? 0 : seen.grams, left = Number(box.dataset.left || 0);
    const isOver = left > 0 && grams > left + STEP_G / 2, percent = left ? Math.round(Math.min(Math.max((100 * grams) / left, 0), 100)) : 0;
    text(box, "grams", weighed(grams));
    text(box, "said", `${isOver ? word("over") : ""}${word(seen.stable ? "atRest" : "settling")}`);
    box.toggleAttribute("data-over", isOver);
    box.querySelector("[data-bar]")?.setAttribute("aria-label", word("bar", { percent }));
    box.querySelector("[data-fill]")?.setAttribute("width", String(percent));
  }
  for (const each of document.querySelectorAll("[data-pan-fault]")) each.ariaPressed = String(each.dataset.panFault === scale.fault);
}

document.addEventListener("click", (event) => {
  const pressed = event.target.closest?.("[data-pan-put], [data-pan-tare], [data-pan-fault]");
  if (!pressed) return;
  if (pressed.dataset.panPut) scale.put(Number(pressed.dataset.panPut));
  else if (pressed.dataset.panFault) scale.fail(pressed.dataset.panFault);
  else scale.tare();
  show();
});

function pressAgain(form, by) {
  if (!waitsSince || !form.isConnected) waitsSince = 0;
  else {
    isAgain = true;
    form.requestSubmit(by);
    isAgain = false;
  }
}

// A form that takes what is on the scale: its weight goes along as soon as it rests, or it does not go and the page says
// why.
document.addEventListener("submit", (event) => {
  if (event.submitter?.name !== "by_scale") return;
  const box = document.querySelector("[data-scale]"), form = event.target, by = event.submitter;
  const stop = (words) => {
    event.preventDefault();
    event.stopImmediatePropagation();
    text(document, "scale-error", words);
  };
  const now = Date.now();
  let seen;
  try {
    seen = scale.read();
  } catch (wrong) {
    waitsSince = 0;
    return stop(word(wrong.message));
  }
  if (now - takenAt < TWICE_MS) return stop(""); // one press of a shaking hand
  if (!seen.stable) {
    if (waitsSince && !isAgain) return stop(""); // pressed again while it waits
    waitsSince ||= now;
    if (now - waitsSince < WAITS_MS) {
      setTimeout(() => pressAgain(form, by), SHOWN_EVERY_MS);
      return stop("");
    }
    waitsSince = 0;
    return stop(word("unsteady"));
  }
  waitsSince = 0;
  text(document, "scale-error", "");
  form.elements.weighed.value = seen.grams.toFixed(1);
  takenAt = Date.now();
  if (!("tares" in form.dataset)) return;
  // Two squeezes of the same weight are two, whether or not the page has been answered between them.
  const token = (form.elements.token.value = newToken()), before = scale.tared;
  scale.tare();
  handed.set(token, scale.tared - before);
}, true);

// What the server refused lies on the scale as before; what it has not answered yet waits in the outbox, and is off it.
document.addEventListener("outbox:answered", ({ detail }) => {
  const token = detail.values.find(([name]) => name === "token")?.[1];
  if (handed.has(token) && detail.outcome === "refused") scale.tare(scale.tared - handed.get(token));
  handed.delete(token);
});

setInterval(show, SHOWN_EVERY_MS);
document.addEventListener("htmx:afterSettle", show);
show();

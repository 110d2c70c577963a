// The Bench's keys and taps. Every rule is the server's; this file only turns keys and taps into its forms.

import { isTyping } from "./app.js";
import { isBusy } from "./outbox.js";
import { inTenths, typed, withUnit, word } from "./words.js";

const PLANE_CENTRE = 250;
const PLANE_UNITS_PER_CHROMA = 2.8;
const LADDER = { top: 100, bottom: 10, margin: 20, length: 440 };
const DEFAULT_DEPTH = 60;

const byId = (id) => document.getElementById(id);
const shades = () => [...document.querySelectorAll("#rail input[name=shade]")];
const chosenShade = () => shades().find((radio) => radio.checked);

// --- Pouring: a step of the chosen shade goes into the outbox, which adds up steps that come faster than answers.

let chosenValue = chosenShade()?.value;

function choose(radio) {
  radio.checked = true;
  chosenValue = radio.value;
  byId("stepper-name").textContent = radio.dataset.name;
  const grams = byId("id_grams");
  grams.value = byId(`in-${radio.value}`).dataset.grams;
  grams.dataset.shade = radio.value;
  grams.setAttribute("aria-label", word("gramsOf", { name: radio.dataset.name }));
}

const step = (name) => typed(byId(name).value);

function pour(by) {
  const radio = shades().find((each) => each.value === chosenValue);
  if (!radio) return;
  const form = byId("pour-form");
  countPours(1);
  const said = `${withUnit(by)} ${radio.dataset.name}`;
  const event = new CustomEvent("pour", { detail: { merge: `pour:${radio.value}`, by, said } });
  htmx
    .ajax("POST", form.action, { source: form, swap: "none", event, values: { shade: radio.value, by: String(by) } })
    .catch(() => {});
}

// An answer shows the shade that was poured; the hand may be on the next one already.
function keepChoice() {
  const radio = shades().find((each) => each.value === chosenValue) ?? chosenShade();
  const shown = byId("id_grams").dataset.shade;
  if (radio && (!radio.checked || radio.value !== shown)) choose(radio);
}
document.body.addEventListener("htmx:afterSwap", keepChoice);
document.body.addEventListener("htmx:oobAfterSwap", (event) => {
  if (event.detail.target?.id === "bowl") keepChoice();
});

// While new corrections are reckoned, the old ones stay in their place, out of use, so that nothing jumps.
document.body.addEventListener("htmx:oobBeforeSwap", (event) => {
  const pending = event.detail.fragment.querySelector?.(".fixes[data-pending]");
  if (!pending) return;
  for (const old of document.querySelectorAll("#bowl .fixes > *")) pending.append(old.cloneNode(true));
  for (const button of pending.querySelectorAll("button")) button.disabled = true;
});

// While a pour is on its way, corrections for the bowl before it would only hold it up: its answer asks anew.
document.body.addEventListener("htmx:beforeRequest", (event) => {
  if (isBusy() && event.detail.elt.matches(".fixes")) event.preventDefault();
});

document.addEventListener("change", (event) => {
  if (event.target.name === "shade") choose(event.target);
});

// A pour that waits for the connection is told on its shade.
let steps = [];
function tellWaiting() {
  for (const old of document.querySelectorAll(".rail-waiting")) old.remove();
  const sums = new Map();
  for (const { merge, by } of steps) sums.set(merge, (sums.get(merge) ?? 0) + by);
  for (const radio of shades()) {
    const by = sums.get(`pour:${radio.value}`);
    if (!by) continue;
    const said = Object.assign(document.createElement("b"), { className: "rail-waiting" });
    said.textContent = word("waiting", { weight: withUnit(by) });
    byId(`in-${radio.value}`).after(said);
  }
}
document.addEventListener("outbox:told", ({ detail }) => {
  if (!steps.length && !detail.steps.length) return;
  steps = detail.steps;
  tellWaiting();
});
document.addEventListener("htmx:afterSettle", () => steps.length && tellWaiting());

// The step buttons and the wheel join the same queue as the keys.
document.addEventListener(
  "submit",
  (event) => {
    const button = event.submitter;
    if (!["pour-form", "wheel-form"].includes(event.target.id) || !button?.value) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    if (button.name === "tap") {
      const [shade, by] = button.value.split(":");
      const radio = shades().find((each) => each.value === shade);
      if (radio) choose(radio);
      pour(typed(by));
    } else {
      pour(typed(button.value));
    }
  },
  true,
);

// --- Aiming: a tap on the plane or the ladder fills the typed fields and sends them.

function pointIn(svg, event) {
  return new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
}

function sendAim(fields) {
  for (const [name, number] of Object.entries(fields)) byId(`id_${name}`).value = inTenths(number);
  const form = byId("aim-form");
  htmx.ajax("POST", form.action, {
    source: form,
    target: "#main",
    swap: "morph:outerHTML",
    values: { tapped: 1 },
  });
}

function aimAtPoint(svg, event) {
  const point = pointIn(svg, event);
  const a = (point.x - PLANE_CENTRE) / PLANE_UNITS_PER_CHROMA;
  const b = (PLANE_CENTRE - point.y) / PLANE_UNITS_PER_CHROMA;
  const hue = ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360;
  const lightness = typed(byId("id_lightness").value) || DEFAULT_DEPTH;
  sendAim({ lightness, chroma: Math.hypot(a, b), hue: Math.min(hue, 359.9) });
}

function aimAtDepth(svg, event) {
  const share = (pointIn(svg, event).y - LADDER.margin) / LADDER.length;
  const lightness = LADDER.top - Math.min(Math.max(share, 0), 1) * (LADDER.top - LADDER.bottom);
  sendAim({ lightness, chroma: typed(byId("id_chroma").value) || 0, hue: typed(byId("id_hue").value) || 0 });
}

document.addEventListener("click", (event) => {
  const plane = event.target.closest("#plane");
  const depth = event.target.closest("#depth");
  const earlier = event.target.closest("[data-aim]");
  if (plane) aimAtPoint(plane, event);
  if (depth && byId("aim-form")) aimAtDepth(depth, event);
  if (earlier) {
    const [lightness, chroma, hue] = earlier.dataset.aim.split(" ").map(Number);
    sendAim({ lightness, chroma, hue });
  }
});

// --- Looking: the slider says its number while it is dragged; the shelf is searched as one types.

document.addEventListener("input", (event) => {
  if (event.target.id === "id_washes") {
    const washes = event.target.value;
    byId("washes-said").textContent = word(washes === "1" ? "wash" : "washes", { count: washes });
  }
  if (event.target.id === "rail-search") findShades(event.target.value);
});

function findShades(words) {
  const sought = words.trim().toLowerCase();
  for (const radio of shades()) {
    const row = radio.closest(".rail-row"), holds = `${radio.dataset.name} ${radio.dataset.code}`.toLowerCase().includes(sought);
    row.toggleAttribute("data-hidden", !holds);
    row.toggleAttribute("data-sought", Boolean(sought) && holds); // what is looked for is shown, whatever else is not
  }
}

// Which shades the rail shows stays as it was chosen on this tablet.
document.addEventListener("change", (event) => {
  if (event.target.id !== "rail-show") return;
  localStorage.setItem("rail-show", event.target.value);
  showRail();
});

function showRail() {
  const show = byId("rail-show");
  if (!show) return;
  show.value = localStorage.getItem("rail-show") ?? "left";
  byId("rail").dataset.show = show.value;
}
document.addEventListener("htmx:afterSettle", showRail);
showRail();

// The wheel explains itself until five pours were made on this tablet.
const LEARNED_AFTER = 5;
function countPours(more) {
  const poured = Number(localStorage.getItem("poured") ?? 0) + more;
  if (more) localStorage.setItem("poured", String(poured));
  document.documentElement.toggleAttribute("data-poured", poured >= LEARNED_AFTER);
}
countPours(0);

// On a small screen the list steers from the start, until the wheel is chosen there.
document.addEventListener("click", (event) => {
  const mode = event.target.closest?.("#mode-steer, #mode-list");
  if (!mode || !event.isTrusted) return;
  localStorage.setItem("steer", mode.id);
  window.tellSteering();
});
// The server was told on an earlier page: where a tablet was turned since, what steers is asked for again.
const byList = document.cookie.includes("steer=list");
const isOther = document.querySelector(`#middle:not([inert]) ${byList ? "#wheel" : ".steers"}`); // no panel lies over it
if (isOther && document.querySelector("#seen [name=mode]")?.value === "") byId(byList ? "mode-list" : "mode-steer")?.click();

function chooseFound() {
  const found = shades().filter((radio) => !radio.closest("[data-hidden]"));
  if (found.length) choose(found[0]);
  byId("rail-search").value = "";
  findShades("");
  byId("rail-search").blur();
}

function nextOf(links) {
  const at = links.findIndex((link) => link.getAttribute("aria-current") === "true");
  if (links.length > 1) links[(at + 1) % links.length].click();
}

// --- Keys.

const KEYS = {
  ArrowUp: (event) => pour(step(event.shiftKey ? "more-01" : "more-1")),
  ArrowDown: (event) => pour(step(event.shiftKey ? "less-01" : "less-1")),
  h: () => byId("hit")?.click(),
  a: () => byId("adjust")?.click(),
  z: () => nextOf([...document.querySelectorAll("#tabs .zone-tab")]),
  k: () => nextOf([...document.querySelectorAll("#coats [data-step]")]),
  l: () => nextOf([...document.querySelectorAll("[data-light]")]),
  s: () => byId(byId("mode-steer")?.ariaCurrent === "true" ? "mode-list" : "mode-steer")?.click(),
  d: () => byId("mode-aim")?.click(),
  g: () => byId("mode-guess")?.click(),
  "/": () => byId("rail-search")?.focus(),
  "?": () => {
    const keys = byId("keys");
    if (keys.open) keys.close();
    else keys.show();
  },
  u: () => byId("undo")?.click(),
  U: () => byId("redo")?.click(),
  Escape: () => (byId("keys").open ? byId("keys").close() : byId("leave-panel")?.click()),
};

function answerKey(key) {
  const button = document.querySelector(`#panel [data-take="${key}"]`);
  button?.click();
  return Boolean(button);
}

function shadeKey(key) {
  const radio = shades().find((each) => each.dataset.key === key);
  if (radio) choose(radio);
  return Boolean(radio);
}

await window.htmxListens; // a link that a key presses before is followed by the browser, and the next key's is lost
document.addEventListener("keydown", (event) => {
  if (event.target.id === "rail-search" && ["Enter", "Escape"].includes(event.key)) {
    event.preventDefault();
    chooseFound();
  }
  if (event.key === "Escape" && isTyping(event.target)) event.target.blur(); // keys count again
  if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
  if (event.target.type === "range" && event.key.startsWith("Arrow")) return;
  const act = KEYS[event.key];
  if (act) act(event);
  if (act || answerKey(event.key) || shadeKey(event.key)) event.preventDefault();
});

// From here on keys count; those that came too early are pressed again.
document.body.dataset.keys = "ready";
const early = window.earlyKeys ?? [];
window.earlyKeys = null;
for (const pressed of early) document.body.dispatchEvent(new KeyboardEvent("keydown", { ...pressed, bubbles: true }));

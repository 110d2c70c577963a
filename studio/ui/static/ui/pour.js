// The Pour page goes on without connection: what waits in the outbox counts as in, and the next line comes to hand. The
// records say what is so once they answer again; until then this only adds up what this tablet has sent.

import { newToken } from "./outbox.js";
import { typed, weighed, word } from "./words.js";

const NEAR_G = 0.05; // as the page has it: nearer than half a step of the scale, a line is in
const TWICE_MS = 1000;
const AMOUNT = /^\s*(\d+(?:[.,]\d+)?)\s*(\w*)\s*$/; // a number, with a unit or without
let chosen = ""; // the line that a hand has picked meanwhile
let wasWaiting = 0;

const one = (selector) => document.querySelector(selector);
const pathOf = (form) => form && new URL(form.getAttribute("hx-post") ?? form.action, location.href).pathname;

// Grams that were sent, and as what they were typed where only the records know how many grams that is.
function amountOf({ by_scale: byScale, weighed: onScale, as_asked: asked, grams }) {
  if (byScale) return { grams: typed(onScale), text: "" };
  const [, number, unit] = (asked ?? grams).match(AMOUNT) ?? [], house = one("#words").dataset;
  if (unit === "g") return { grams: typed(number), text: "" };
  const isHouse = number && (!unit || unit === house.unit);
  return isHouse ? { grams: typed(number) * Number(house.unitG), text: "" } : { grams: 0, text: asked ?? grams };
}

// What each line has of it by what waits, and whether the bowl was called mixed.
function waitingOf(waiting) {
  const at = { weigh: pathOf(one("#typed-form")), line: one(".pour")?.dataset.linePath, mix: pathOf(one("[data-all-in]")) };
  const lines = new Map();
  let isMixed = false;
  for (const { path, values } of waiting) {
    const sent = Object.fromEntries(values), line = lines.get(sent.line) ?? { added: [], isEnough: false };
    if (path === at.weigh) line.added.push(amountOf(sent));
    else if (path === at.line && "take_back" in sent) line.added.pop();
    else if (path === at.line) line.isEnough = true;
    else if (path === at.mix) isMixed = true;
    if (sent.line) lines.set(sent.line, line);
  }
  return { lines, isMixed };
}

function show(waiting) {
  const root = one(".pour");
  if (!root || !one("[data-all-in]")) return;
  if (waiting.length > wasWaiting) setTimeout(anew, TWICE_MS);
  wasWaiting = waiting.length;
  const { lines, isMixed } = waitingOf(waiting);
  let hand = null;
  for (const row of root.querySelectorAll("[data-line]")) {
    const { added = [], isEnough = false } = lines.get(row.dataset.line) ?? {};
    const sum = added.reduce((total, each) => total + each.grams, 0), left = isEnough ? 0 : Math.max(Number(row.dataset.left) - sum, 0);
    row.querySelector(".rail-waiting")?.remove();
    const sums = [sum > 0 ? `${weighed(sum)} ${one("#words").dataset.unit}` : "", ...added.map((each) => each.text)].filter(Boolean);
    if (sums.length) {
      const said = Object.assign(document.createElement("b"), { className: "rail-waiting" });
      said.textContent = word("waiting", { weight: `+${sums.join(" + ")}` });
      row.querySelector("[data-amount]").append(said);
    }
    if (left > NEAR_G && (!hand || row.dataset.line === chosen)) hand = { row, left };
    row.toggleAttribute("data-all-of-it", left <= NEAR_G);
  }
  if (!waiting.length) return;
  one("[data-to-pour]")?.toggleAttribute("hidden", !hand);
  one("[data-all-in]").toggleAttribute("hidden", Boolean(hand) || isMixed);
  one("[data-mixed-away]").toggleAttribute("hidden", !isMixed);
  for (const part of [one("#typed-form"), one("#scale"), one("#simulated"), one(".pour-wanted")]) part?.toggleAttribute("hidden", !hand);
  if (hand) take(hand);
  else one(".pour-name").textContent = word("everyLine");
  for (const link of root.querySelectorAll("[data-picks]")) {
    const row = link.closest("[data-line]");
    link.hidden = row === hand?.row || row.hasAttribute("data-all-of-it");
  }
}

// A line comes to hand: its name, what is left of it, and the forms that pour it.
function take({ row, left }) {
  const grams = left.toFixed(2), isOther = one("#typed-form [name=line]").value !== row.dataset.line;
  for (const field of document.querySelectorAll("#typed-form [name=line], [data-tares] [name=line]")) field.value = row.dataset.line;
  one(".pour-name").textContent = row.dataset.name;
  for (const form of document.querySelectorAll("#typed-form, [data-tares]")) form.dataset.of = row.dataset.name;
  one(".pour-wanted b").textContent = weighed(left);
  one(".pour-wanted span")?.remove();
  one("#scale").dataset.left = grams;
  const asked = one("#typed-form [name=as_asked]");
  asked.value = `${grams} g`;
  asked.textContent = word("add", { weight: `${weighed(left)} ${one("#words").dataset.unit}` });
  if (isOther) one("#id_lot").value = one("#id_grams").value = "";
  for (const each of document.querySelectorAll("[data-line]")) each.classList.toggle("pour-line-hand", each === row);
}

// The same amount poured once more is another change; tapped twice by a shaking hand it is the same.
function anew() {
  for (const field of document.querySelectorAll("#typed-form [name=token]")) field.value = newToken();
}

let told = [];
document.addEventListener("outbox:told", ({ detail }) => {
  told = detail.waiting;
  show(told);
});
document.addEventListener("click", (event) => {
  const link = event.target.closest?.("a[data-picks]");
  if (!link || !told.length) return;
  event.preventDefault();
  chosen = link.dataset.picks;
  show(told);
});

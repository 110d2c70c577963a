// Every change leaves a page through here, one after another, and stays here until the server has answered it. What the
// connection, a resting database or a signed-out session swallowed is kept on this machine with its token, told in a
// banner, and sent again: for the person who tapped it, and for nobody else.

import { figure, word } from "./words.js";

const STORE = "outbox:";
const RETRY_MS = 2000;
const PATIENCE_MS = 15000;
const FAILURES_MOST = 3; // of one change, while the server answers everything else
const TYPED = "input:not([type=hidden], [type=image], [type=submit]), textarea, select";

const { person = "", personName = "", pulse = "/pulse/", door = "/sign-in/" } = document.body.dataset;
const waiting = []; // [{token, path, values, target, swap, page, said, at, merge, by, failures}]
let tab = sessionStorage.getItem("tab");
let sending = false;
let sent = null; // the change that is on its way
let reading = 0; // how many requests for the whole page are on their way
const reads = []; // those that were asked for meanwhile, in their order: [{elt, path, issue}]
let held = ""; // why nothing is sent: lost, down, out, other, stuck, asked
let refusal = null; // the last change that was refused, with its answer
let csrf = "";
let probing = null;
let leavingBy = null; // the link that was pressed

export function newToken() {
  return [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => byte.toString(16).padStart(2, "0")).join("");
}

// What a page's own token names: the same change tapped twice is one change, and another change is another.
const namedBy = new Map(); // the page's token -> the changes that were tapped on it

function nameOf(path, values) {
  const page = values.get("token");
  if (!page) return newToken();
  const named = namedBy.get(page) ?? namedBy.set(page, []).get(page);
  const change = JSON.stringify([path, ...values]);
  if (!named.includes(change)) named.push(change);
  return `${page}-${named.indexOf(change)}`;
}

// --- Kept on this machine, by person and by tab, so that two tabs never send the same.

const key = () => `${STORE}${person}:${tab}`;

function store() {
  if (waiting.length) localStorage.setItem(key(), JSON.stringify({ name: personName, waiting }));
  else localStorage.removeItem(key());
}

function stored(name) {
  try {
    return JSON.parse(localStorage.getItem(name)) ?? { waiting: [] };
  } catch {
    return { waiting: [] };
  }
}

// A tab that lives holds a lock by its name; what a tab that was closed has left behind is taken over.
async function takeOver() {
  const locks = navigator.locks;
  const claim = (name) =>
    new Promise((told) => {
      locks.request(name, { ifAvailable: true }, (lock) => {
        told(lock !== null);
        return lock && new Promise(() => {});
      });
    });
  if (!tab || (locks && !(await claim(`tab:${tab}`)))) {
    tab = newToken();
    sessionStorage.setItem("tab", tab);
    if (locks) await claim(`tab:${tab}`);
  }
  const open = locks ? new Set((await locks.query()).held.map((lock) => lock.name)) : new Set();
  const kept = Object.keys(localStorage).filter((name) => name.startsWith(`${STORE}${person}:`));
  const ours = kept.filter((name) => name === key() || !open.has(`tab:${name.split(":").at(-1)}`));
  const found = ours.flatMap((name) => stored(name).waiting).sort((one, other) => one.at - other.at);
  waiting.unshift(...found);
  for (const name of ours) localStorage.removeItem(name);
  store();
}

function ofOthers() {
  const names = Object.keys(localStorage).filter((name) => name.startsWith(STORE));
  return names.filter((name) => name.split(":")[1] !== person).map(stored).filter((each) => each.waiting.length);
}

// --- Taking a change in: what the form holds now, with the button that was pressed, whatever the page does later.

const sentAs = new WeakMap(); // control -> what it held when it was last sent

export function stateOf(control) {
  if (control.type === "checkbox" || control.type === "radio") return String(control.checked);
  return control.tagName === "SELECT" ? [...control.selectedOptions].map((each) => each.value).join("\n") : control.value;
}

function shownAs(control) {
  if (control.type === "checkbox" || control.type === "radio") return String(control.defaultChecked);
  if (control.tagName !== "SELECT") return control.defaultValue;
  const shown = [...control.options].filter((each) => each.defaultSelected).map((each) => each.value);
  return shown.length ? shown.join("\n") : (control.options[0]?.value ?? "");
}

// Whether a hand has changed a control since it was last sent, so that no answer may take its place.
export function isUnsent(control) {
  if (!control.matches(TYPED)) return false;
  const now = stateOf(control);
  return now !== shownAs(control) && sentAs.get(control) !== now;
}

function noteSent(form) {
  for (const control of form.elements) sentAs.set(control, stateOf(control));
}

// What a form sends now. One that sends changes only leaves out what stands in it as it was shown.
function valuesOf(elt, submitter, more) {
  const form = elt.closest("form");
  const values = form ? new FormData(form, submitter?.form === form ? submitter : null) : new FormData();
  if (form && "changesOnly" in form.dataset) {
    for (const control of form.elements) {
      if (control.matches(TYPED) && stateOf(control) === shownAs(control)) dropFirst(values, control);
    }
  }
  const include = elt.closest("[hx-include]")?.getAttribute("hx-include");
  if (include && include !== "unset") {
    for (const control of document.querySelectorAll(include)) {
      const counts = control.name && !control.disabled && control.form !== form;
      if (counts && !(control.type === "checkbox" && !control.checked)) values.append(control.name, control.value);
    }
  }
  for (const [name, value] of Object.entries(more ?? {})) values.set(name, value);
  return values;
}

// A button of the same name follows the field in the form, and stays.
function dropFirst(values, control) {
  const rest = values.getAll(control.name).slice(1);
  values.delete(control.name);
  for (const value of rest) values.append(control.name, value);
}

function saidOf(elt, submitter) {
  const named = submitter ?? elt;
  const words = (named.getAttribute("aria-label") ?? submitter?.textContent ?? "").trim().replace(/\s+/g, " ").replace(/ →$/, "");
  const { of = "" } = elt.closest("form")?.dataset ?? {}; // what it is done with
  return [words, of].filter(Boolean).join(" · ").slice(0, 60);
}

document.addEventListener("htmx:confirm", (event) => {
  const { verb, elt, path, etc, target, triggeringEvent } = event.detail;
  const form = elt.closest("form");
  if (form) noteSent(form);
  if (verb === "get" && target?.id === "main" && (isBusy() || reading)) {
    event.preventDefault();
    // Asked for again by the same hand, it is asked for once: what it sends is read when it goes.
    const again = reads.findIndex((each) => each.elt === elt && each.path === path);
    if (again >= 0) reads.splice(again, 1);
    reads.push({ elt, path, issue: event.detail.issueRequest });
  }
  if (verb !== "post" || etc.headers?.["X-Sent"]) return;
  event.preventDefault();
  const submitter = triggeringEvent?.submitter;
  const values = valuesOf(elt, submitter, etc.values);
  const told = triggeringEvent?.detail ?? {};
  take({
    token: nameOf(path, values),
    path,
    values: [...values].filter(([, value]) => typeof value === "string"),
    target: target?.id ? `#${target.id}` : "",
    swap: etc.swapOverride ?? elt.closest("[hx-swap]")?.getAttribute("hx-swap") ?? "none",
    page: location.pathname,
    said: told.said || saidOf(elt, submitter),
    at: Date.now(),
    merge: told.merge,
    by: told.by,
    failures: 0,
    isLate: Boolean(held), // done before the records could be told: what is in the bowl is in
  });
});

function take(entry) {
  const last = waiting.at(-1);
  // Steps of one shade that come faster than answers are added up; one that was sent once keeps its amount.
  if (entry.merge && last?.merge === entry.merge && !last.failures && last !== sent) {
    last.by = Math.round((last.by + entry.by) * 1000) / 1000;
    last.values = last.values.map(([name, value]) => [name, name === "by" ? String(last.by) : value]);
    last.said = entry.said.replace(/^\S+/, `${last.by > 0 ? "+" : "−"}${figure(Math.abs(last.by))}`);
  } else {
    waiting.push(entry);
  }
  store();
  tell();
  sendNext();
}

// --- Sending.

async function sendNext() {
  if (sending || reading || held) return leave();
  if (!waiting.length) return goOn();
  sending = true;
  sent = waiting[0];
  const outcome = await post(sent);
  sending = false;
  if (outcome === "made" || outcome === "refused") {
    waiting.shift();
    document.dispatchEvent(new CustomEvent("outbox:answered", { detail: { values: sent.values, outcome } }));
    held = outcome === "refused" && sent.refusedFirst && waiting.some((each) => each.merge) ? "asked" : "";
  } else {
    sent.failures += 1;
    held = outcome;
    if (held === "down" && sent.failures >= FAILURES_MOST) held = "stuck";
    else probeSoon();
  }
  sent = null;
  store();
  tell();
  if (!waiting.length) announce();
  sendNext();
}

// Nothing is left to send: the page may be asked for, or left.
function goOn() {
  if (leavingBy) leave();
  else reads.shift()?.issue(true);
}

// What is shown now follows from what was answered: changes that wait were made on it, by the same hand.
const SHOWN = /name="(seen|version|after)"\s+value="(\d+)"/;

function follow(entry, text) {
  const [, , version] = text.match(SHOWN) ?? [];
  if (!version) return;
  for (const next of waiting.filter((each) => each !== entry && each.page === entry.page)) {
    next.values = next.values.map(([name, value]) => [name, /^(seen|version|after)$/.test(name) ? version : value]);
  }
}

// What came of a change: made, refused, or why it was not answered.
function post(entry) {
  const target = (entry.page === location.pathname && entry.target && document.querySelector(entry.target)) || null;
  const values = new FormData();
  for (const [name, value] of entry.values) values.append(name, value);
  values.set("token", entry.token);
  values.set("waited_s", String(Math.max(0, (Date.now() - entry.at) / 1000)));
  if (entry.isLate || entry.failures) values.set("late", "1");
  if (csrf) values.set("csrfmiddlewaretoken", csrf);
  return new Promise((resolve) => {
    const settle = (event) => {
      if (event.detail.requestConfig.headers["X-Sent"] !== entry.token) return;
      document.removeEventListener("htmx:afterRequest", settle);
      resolve(outcomeOf(event.detail.xhr, entry));
    };
    document.addEventListener("htmx:afterRequest", settle);
    const here = entry.page === location.pathname;
    window.htmx
      .ajax("POST", entry.path, {
        source: document.body,
        target: target ?? document.body,
        swap: target && here ? entry.swap : "none",
        values,
        headers: { "X-Sent": entry.token },
      })
      .catch(() => {})
      .then(() => resolve("lost")); // had it been answered, that was told before
  });
}

function outcomeOf(xhr, entry) {
  const { status } = xhr;
  if (status === 0) return "lost";
  if (status === 401 || new URL(xhr.responseURL || location.href).pathname === door) return "out";
  if (status === 403) return "out"; // signed in anew elsewhere: the pulse brings the new token
  if (status === 429 || status >= 500) return "down";
  if (status < 400) {
    follow(entry, xhr.responseText);
    return "made";
  }
  entry.refusedFirst = status === 409;
  refusal = { entry, text: xhr.responseText };
  if (entry.page !== location.pathname) noteRefused(entry, xhr.responseText);
  return "refused";
}

document.addEventListener("htmx:configRequest", (event) => {
  event.detail.timeout = PATIENCE_MS;
});

// The whole page is asked for and changes are sent in turns, so that no answer shows what was before another.
function isPage(event) {
  return event.detail.requestConfig.verb === "get" && event.detail.requestConfig.target.id === "main";
}
document.addEventListener("htmx:beforeSend", (event) => {
  if (isPage(event)) reading += 1;
});
document.addEventListener("htmx:afterRequest", (event) => {
  if (!isPage(event)) return;
  reading = Math.max(0, reading - 1);
  sendNext();
});

// A part of the page that was asked for and not answered tells of the trouble too; it is asked for again by hand.
for (const name of ["htmx:sendError", "htmx:timeout", "htmx:responseError"]) {
  document.addEventListener(name, (event) => {
    if (event.detail.requestConfig.headers["X-Sent"] || held) return;
    const { status } = event.detail.xhr;
    if (status && status !== 401 && status !== 429 && status < 500) return;
    held = status === 0 ? "lost" : status === 401 ? "out" : "down";
    tell();
    probeSoon();
  });
}

// --- Recovery: asked for softly until the server answers this person again.

function probeSoon() {
  probing ??= setTimeout(probe, RETRY_MS);
}

async function probe() {
  probing = null;
  held = (await pulseOf()) ?? "";
  tell();
  if (held) return probeSoon();
  announce();
  sendNext();
}

async function pulseOf() {
  try {
    const answer = await fetch(pulse, { cache: "no-store", signal: AbortSignal.timeout(PATIENCE_MS) });
    if (answer.status === 401) return "out";
    if (!answer.ok) return "down";
    const now = await answer.json();
    if (String(now.person) !== person) return "other";
    csrf = now.csrf;
    for (const input of document.querySelectorAll("[name=csrfmiddlewaretoken]")) input.value = csrf;
    return "";
  } catch {
    return "lost";
  }
}

// --- Telling.

const clockTime = (at) => new Intl.DateTimeFormat(document.documentElement.lang, { hour: "2-digit", minute: "2-digit" }).format(at);
const saidAt = ({ said, at }) => word("at", { what: said || "…", time: clockTime(at) });

// When what the page shows was so: as it was kept, or as the server answered last.
let shownAt = Number(document.documentElement.dataset.kept) || Date.now();
document.addEventListener("htmx:afterSwap", ({ detail }) => {
  if (detail.target?.id === "main") shownAt = Date.now();
});

const refusedElsewhere = [];

function noteRefused(entry, text) {
  const words = new DOMParser().parseFromString(text, "text/html").querySelector("[role=alert]")?.textContent;
  refusedElsewhere.push(`${entry.said}: ${(words ?? "").trim().replace(/\s+/g, " ")}`);
}

function tell() {
  const steps = held ? waiting.filter((each) => each.merge).map(({ merge, by }) => ({ merge, by })) : [];
  document.dispatchEvent(new CustomEvent("outbox:told", { detail: { steps, waiting: held ? waiting : [] } }));
  const banner = document.getElementById("outbox");
  if (!banner) return;
  const others = ofOthers();
  const why = held || (refusedElsewhere.length ? "refused" : !waiting.length && others.length ? "others" : "");
  banner.hidden = !why;
  if (!why) return;
  for (const line of banner.querySelectorAll("[data-why]")) line.hidden = line.dataset.why !== why;
  const names = [...new Set(others.map((each) => each.name))].join(", ");
  for (const place of banner.querySelectorAll("[data-name]")) place.textContent = why === "other" ? personName : names;
  const said = why === "refused" ? refusedElsewhere : why === "others" ? [] : waiting.map(saidAt);
  const isAway = why === "lost" || why === "down", asOf = banner.querySelector("[data-as-of]");
  asOf.hidden = !isAway;
  asOf.querySelector("b").textContent = clockTime(shownAt);
  banner.querySelector("ul").replaceChildren(
    ...said.map((words) => Object.assign(document.createElement("li"), { textContent: words || "…" })),
  );
  const link = banner.querySelector("a");
  link.hidden = why !== "out" && why !== "other";
  link.href = `${door}?next=${encodeURIComponent(location.pathname + location.search)}`;
  for (const button of banner.querySelectorAll("button")) button.hidden = !button.dataset.when.split(" ").includes(why);
}

document.addEventListener("click", (event) => {
  const button = event.target.closest?.("#outbox button");
  if (!button) return;
  if (button.dataset.act === "drop") waiting.length = 0;
  if (held === "asked") follow(refusal.entry, refusal.text); // what was asked about was seen by now
  for (const entry of waiting) Object.assign(entry, { failures: 0, merge: undefined });
  refusedElsewhere.length = 0;
  held = "";
  store();
  tell();
  sendNext();
});

// Everything was sent: parts that were left as they stood may look again.
function announce() {
  document.body.dispatchEvent(new CustomEvent("outbox:empty", { bubbles: true }));
}

// --- Leaving: a link waits for a tap that is still on its way. What is held is kept, and need not be waited for.

export function isBusy() {
  return sending || (waiting.length > 0 && !held);
}

// The answer that was waited for may have changed where the link leads: to a zone that stands in the place of another.
function leave() {
  if (leavingBy && !isBusy()) location.assign(leavingBy.href);
}

document.addEventListener("click", (event) => {
  const link = event.target.closest?.("a[href]");
  if (!link || !isBusy() || event.defaultPrevented || event.ctrlKey || event.metaKey || event.shiftKey) return;
  if (link.hasAttribute("hx-get") || link.target || link.hasAttribute("download")) return;
  event.preventDefault();
  leavingBy = link;
});

if (person) {
  await takeOver();
  if (document.documentElement.dataset.kept) {
    held = "lost"; // it came from this tablet: it is asked for anew as soon as the server answers, and all is sent
    probeSoon();
    document.addEventListener("outbox:empty", () => {
      if (!waiting.length && !held && ![...document.querySelectorAll(TYPED)].some(isUnsent)) location.reload();
    });
  }
  const fromElsewhere = waiting.some((entry) => entry.page !== location.pathname);
  if (fromElsewhere) document.addEventListener("outbox:empty", () => refusedElsewhere.length || location.reload(), { once: true });
  tell();
  sendNext();
}

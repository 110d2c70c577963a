// What every page needs: the surround of the booth, what a hand has opened or typed, and the outbox of changes.

import { isUnsent } from "./outbox.js";

const SURROUNDS = ["mid", "light", "dark"];

function showSurround(name) {
  document.documentElement.dataset.surround = name;
}

export function isTyping(target) {
  const text = "input:not([type=radio], [type=checkbox], [type=range], [type=image]), textarea, select, [contenteditable]";
  return target.matches?.(text) ?? false;
}

// What a hand has opened or typed stays while answers arrive, whichever request they answer.
if (window.Idiomorph) {
  window.Idiomorph.defaults.callbacks.beforeAttributeUpdated = (name, node) =>
    !(name === "open" && node.tagName === "DETAILS");
  window.Idiomorph.defaults.callbacks.beforeNodeMorphed = (node) => {
    const form = node.dataset?.with ? document.getElementById(node.dataset.with) : node;
    if (form?.tagName === "FORM" && "keep" in form.dataset) return ![...form.elements].some(isUnsent);
    return !(node.nodeType === Node.ELEMENT_NODE && isUnsent(node));
  };
}

// What stands beside a form that was kept was kept with it: after a change it asks what is so now.
document.addEventListener("outbox:answered", () => {
  for (const beside of document.querySelectorAll("[data-with]")) {
    if ([...document.getElementById(beside.dataset.with).elements].some(isUnsent)) window.htmx.trigger(beside, "ask");
  }
});

// A year that is being typed is 0001, 0019 and 0196 on its way to 1961: none of them is a change.
document.addEventListener(
  "change",
  (event) => {
    if (event.target.type === "date" && /^0/.test(event.target.value)) event.stopImmediatePropagation();
  },
  true,
);

// The steps of the visit lead on with the zone and the coat that are in hand now; on a narrow screen the one that is shown is in sight.
document.addEventListener("zone", (event) => {
  for (const link of document.querySelectorAll('.path a[href*="zone="]')) {
    const bare = link.getAttribute("href").replace(/&coat_id=\d+/, "");
    const coat = event.detail.coat && link.hasAttribute("data-coat") ? `&coat_id=${event.detail.coat}` : "";
    link.href = bare.replace(/zone=\d+/, `zone=${event.detail.pk}${coat}`);
  }
});
document.querySelector('.path [aria-current="page"]')?.scrollIntoView({ block: "nearest", inline: "center" });

showSurround(localStorage.getItem("surround") ?? "mid");

document.addEventListener("keydown", (event) => {
  if (event.key !== "b" || event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
  const next = SURROUNDS[(SURROUNDS.indexOf(document.documentElement.dataset.surround) + 1) % SURROUNDS.length];
  localStorage.setItem("surround", next);
  showSurround(next);
});

// What was pressed shows it until it is answered: the answer takes its place, or what it asked for is done.
function press(control) {
  if (control && !control.disabled) control.dataset.pressed = "";
}
function letGo() {
  for (const control of document.querySelectorAll("[data-pressed]")) delete control.dataset.pressed;
}
document.addEventListener("submit", (event) => press(event.submitter), true);
document.addEventListener("click", (event) => {
  const link = event.target.closest?.("a[hx-get]");
  if (link) press(link);
});
for (const name of ["htmx:afterSettle", "htmx:afterOnLoad", "htmx:sendError", "htmx:timeout", "htmx:responseError", "outbox:empty"]) {
  document.addEventListener(name, ({ detail }) => {
    if (!("part" in (detail?.elt?.dataset ?? {}))) letGo();
  });
}
addEventListener("pageshow", letGo);

// A hand is heard once htmx and the page's own script listen, too; what it did too early is done again then.
function doAgain() {
  const early = window.early ?? [];
  window.early = null;
  for (const { kind, control, by } of early) {
    if (kind === "click") control.click();
    else if (kind === "submit") control.requestSubmit(by);
    else control.dispatchEvent(new Event(kind, { bubbles: true }));
  }
}
window.htmxListens.then(() => setTimeout(doAgain));

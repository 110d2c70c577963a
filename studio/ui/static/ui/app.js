// What every page needs: the surround of the booth, kept from page to page.

const SURROUNDS = ["mid", "light", "dark"];

function showSurround(name) {
  document.documentElement.dataset.surround = name;
}

export function isTyping(target) {
  const text = "input:not([type=radio], [type=checkbox], [type=range], [type=image]), textarea, select, [contenteditable]";
  return target.matches?.(text) ?? false;
}

function isBegun(form) {
  return [...form.elements].some((field) => {
    if (field.type === "checkbox" || field.type === "radio") return field.checked !== field.defaultChecked;
    if (field.tagName === "SELECT") return [...field.options].some((each) => each.selected !== each.defaultSelected);
    return field.type !== "hidden" && field.value !== (field.defaultValue ?? field.value);
  });
}

// What a hand has opened stays open when the page around it is morphed.
if (window.Idiomorph) {
  window.Idiomorph.defaults.callbacks.beforeAttributeUpdated = (name, node) =>
    !(name === "open" && node.tagName === "DETAILS");
  // A form that a hand has begun to fill in is left alone by a page that brings itself up to date.
  window.Idiomorph.defaults.callbacks.beforeNodeMorphed = (node) =>
    !(node.tagName === "FORM" && "keep" in node.dataset && isBegun(node));
}

showSurround(localStorage.getItem("surround") ?? "mid");

document.addEventListener("keydown", (event) => {
  if (event.key !== "b" || event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
  const next = SURROUNDS[(SURROUNDS.indexOf(document.documentElement.dataset.surround) + 1) % SURROUNDS.length];
  localStorage.setItem("surround", next);
  showSurround(next);
});

// A tap that is still on its way is kept before the page is left: a link waits for it.
let sending = 0;
let leavingFor = null;

document.addEventListener("htmx:beforeSend", (event) => {
  if (event.detail.requestConfig.verb === "post") sending += 1;
});
document.addEventListener("htmx:afterRequest", (event) => {
  if (event.detail.requestConfig.verb !== "post") return;
  sending = Math.max(0, sending - 1);
  if (!sending && leavingFor) location.assign(leavingFor);
});
document.addEventListener("click", (event) => {
  const link = event.target.closest?.("a[href]");
  if (!link || !sending || event.defaultPrevented || event.ctrlKey || event.metaKey || event.shiftKey) return;
  if (link.hasAttribute("hx-get") || link.target) return;
  event.preventDefault();
  leavingFor = link.href;
});

// A change that the connection swallowed is kept on the screen and sent again; its token keeps it from counting twice.
// The Bench's pours have a queue of their own, which bench.js keeps.
const RETRY_MS = 2000;
const unsent = [];
let retrying = false;

document.addEventListener("htmx:sendError", (event) => {
  const banner = document.getElementById("lost-connection");
  const { verb, path, parameters } = event.detail.requestConfig;
  if (!banner || event.detail.elt.id === "pour-form") return;
  banner.hidden = false;
  if (verb === "post" && !retrying) unsent.push({ path, values: { ...parameters } });
  if (!retrying) setTimeout(resend, RETRY_MS);
});

document.addEventListener("htmx:afterOnLoad", () => {
  if (!unsent.length && !document.querySelector("[data-bench]")) document.getElementById("lost-connection").hidden = true;
});

async function resend() {
  if (retrying || !unsent.length) return;
  retrying = true;
  const { path, values } = unsent[0];
  let lost = false;
  const noteLoss = () => { lost = true; };
  document.addEventListener("htmx:sendError", noteLoss, { once: true });
  await window.htmx.ajax("POST", path, { values, target: "#main", swap: "morph:outerHTML" }).catch(noteLoss);
  document.removeEventListener("htmx:sendError", noteLoss);
  retrying = false;
  if (!lost) unsent.shift();
  if (!unsent.length) document.getElementById("lost-connection").hidden = true;
  else setTimeout(resend, RETRY_MS);
}

// A part that comes by itself and was not answered says so in its place, and is asked for again by a tap.
// A file of its own, which waits for nothing: the first part may fail before the outbox has been opened.

// As words.js does, which this file does not wait for either.
const words = () => document.getElementById("words")?.dataset ?? {};

function askAgain(part, button) {
  button.textContent = words().asking;
  const way = { source: part, target: part, swap: part.getAttribute("hx-swap") };
  window.htmx.ajax("GET", part.getAttribute("hx-get"), way).catch(() => {}); // a fault comes by the events below
}

function didNotCome(elt) {
  const wasHere = elt.contains(document.activeElement);
  const said = Object.assign(document.createElement("p"), { className: "missed", role: "status" });
  const again = Object.assign(document.createElement("button"), { type: "button", className: "button", textContent: words().again });
  again.addEventListener("click", () => askAgain(elt, again));
  said.append(words().missed.replace("{part}", elt.dataset.part), again);
  elt.replaceChildren(said);
  if (wasHere) again.focus();
}

for (const name of ["htmx:sendError", "htmx:timeout", "htmx:responseError"]) {
  document.addEventListener(name, ({ detail: { elt } }) => {
    if ("part" in elt.dataset) didNotCome(elt);
  });
}

// A refusal is a page of its own, and would be a page in the page: the zone that a part was asked for may be gone.
document.addEventListener("htmx:beforeSwap", (event) => {
  const { elt, target, xhr, shouldSwap } = event.detail;
  if (!shouldSwap || xhr.status < 400 || target !== elt || !("part" in elt.dataset)) return;
  event.detail.shouldSwap = false;
  if (!waitsNoMore(elt)) didNotCome(elt);
});

// What was shown whole meanwhile, by the answer to something else, waits no more: it asks for nothing, and the answer
// to what it had asked for is let go. (It would be put inside, since such a part does not say where its answer goes.)
const parts = new WeakSet();
const waitsNoMore = (elt) => parts.has(elt) && !elt.hasAttribute("hx-get");
document.addEventListener("htmx:beforeProcessNode", ({ detail: { elt } }) => {
  if ("part" in elt.dataset) parts.add(elt);
});
document.addEventListener("htmx:beforeRequest", (event) => {
  if (waitsNoMore(event.detail.elt)) event.preventDefault();
});
document.addEventListener("htmx:beforeSwap", (event) => {
  if (waitsNoMore(event.detail.elt)) event.detail.shouldSwap = false;
});

// Nothing moves under a finger that is down, or what it presses is no press: a part that comes meanwhile waits for it.
let isDown = false;
const held = [];
document.addEventListener("pointerdown", () => { isDown = true; }, true);
for (const name of ["pointerup", "pointercancel"]) {
  document.addEventListener(name, () => setTimeout(release), true); // after the click that it makes
}

// One that was let go outside of the window was never told of.
document.addEventListener("pointermove", (event) => { if (isDown && !event.buttons) release(); }, true);
addEventListener("blur", () => { if (isDown) release(); });

function release() {
  isDown = false;
  for (const { elt, text, swapStyle } of held.splice(0)) {
    if (elt.isConnected && !waitsNoMore(elt)) window.htmx.swap(elt, text, { swapStyle }, { contextElement: elt });
  }
}

document.addEventListener("htmx:beforeSwap", (event) => {
  const { elt, target, serverResponse, shouldSwap } = event.detail;
  if (!isDown || !shouldSwap || !("part" in elt.dataset) || target !== elt) return;
  event.detail.shouldSwap = false;
  held.push({ elt, text: serverResponse, swapStyle: elt.closest("[hx-swap]")?.getAttribute("hx-swap") ?? "innerHTML" });
});

// What asked for the whole page may be gone when the answer comes, or be another control by then, and with it how the
// answer takes its place: put inside, there would be a page in the page.
document.addEventListener("htmx:beforeSwap", ({ detail }) => {
  if (detail.target?.id !== "main" || !/^\s*<main\b/.test(detail.serverResponse)) return;
  detail.swapOverride ??= detail.requestConfig.elt.isConnected ? "morph:outerHTML" : "outerHTML";
});

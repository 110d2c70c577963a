// What a hand does before the page's scripts are there is kept, and done again by app.js once they are: what only script
// hears, and forms that script sends, since one that the browser sends by itself takes what is typed next along with the
// page. Links, and forms of a page whose scripts never came, need no help.

window.early = [];
window.htmxListens = new Promise((told) => document.addEventListener("htmx:load", told, { once: true }));
for (const kind of ["click", "change", "input"]) {
  document.addEventListener(kind, ({ target }) => {
    const control = kind === "click" ? target.closest?.("button[type=button]") : target;
    if (window.early && control) window.early.push({ kind, control });
  });
}
document.addEventListener("submit", (event) => {
  if (!window.early || !event.target.matches("[hx-post]")) return;
  event.preventDefault();
  window.early.push({ kind: "submit", control: event.target, by: event.submitter });
});
addEventListener("load", () => setTimeout(() => {
  const kept = window.early ?? []; // nobody took it: the scripts did not come
  window.early = null;
  for (const { kind, control, by } of kept) if (kind === "submit") control.requestSubmit(by);
}, 1000));

// The next step is at one place on every screen: the second tap of a double tap that led here is not one for this screen.
const TWICE_MS = 450, TWICE_PX = 60;
let isFirst = true; // on this page: a hand that has pressed something else here has seen where it is
document.addEventListener("click", (event) => {
  const next = event.target.closest?.(".button-next"), wasFirst = isFirst;
  isFirst = false;
  if (!next || event.detail === 0) return; // a key is not pressed twice by a shaking hand
  const [last, x, y] = JSON.parse(sessionStorage.getItem("next") ?? "[0, 0, 0]");
  const isNear = Math.hypot(event.clientX - x, event.clientY - y) < TWICE_PX;
  if (next.matches("button") && wasFirst && isNear && performance.timeOrigin > last && Date.now() - last < TWICE_MS) {
    event.preventDefault();
    event.stopImmediatePropagation();
  } else sessionStorage.setItem("next", JSON.stringify([Date.now(), event.clientX, event.clientY]));
}, true);

// On a small screen the list steers the bowl until the wheel is chosen there; the server is told before it draws either.
const small = matchMedia("(max-width: 800px)");
window.tellSteering = () => {
  const byList = small.matches && localStorage.getItem("steer") !== "mode-steer";
  document.cookie = `steer=${byList ? "list" : "wheel"}; path=/; max-age=31536000; samesite=lax`;
};
window.tellSteering();
small.addEventListener("change", window.tellSteering);

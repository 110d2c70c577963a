// What a hand does before the page's scripts are there is kept, and done again by app.js once they are: what only script
// hears, and forms that script sends, since one that the browser sends by itself takes what is typed next along with the
// page. Links, and forms of a page whose scripts never came, need no help.

window.early = [];
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

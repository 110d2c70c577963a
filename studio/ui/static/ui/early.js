// What a hand does before the page's scripts are there is kept, and done again by app.js once they are. Forms and links
// need no help, since they work without script; what only script hears does.

window.early = [];
for (const kind of ["click", "change", "input"]) {
  document.addEventListener(kind, ({ target }) => {
    const control = kind === "click" ? target.closest?.("button[type=button]") : target;
    if (window.early && control) window.early.push({ kind, control });
  });
}

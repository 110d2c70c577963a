// What every page needs: the surround of the booth, kept from page to page.

const SURROUNDS = ["mid", "light", "dark"];

function showSurround(name) {
  document.documentElement.dataset.surround = name;
}

export function isTyping(target) {
  const text = "input:not([type=radio], [type=checkbox], [type=range], [type=image]), textarea, select, [contenteditable]";
  return target.matches?.(text) ?? false;
}

// What a hand has opened stays open when the page around it is morphed.
if (window.Idiomorph) {
  window.Idiomorph.defaults.callbacks.beforeAttributeUpdated = (name, node) =>
    !(name === "open" && node.tagName === "DETAILS");
}

showSurround(localStorage.getItem("surround") ?? "mid");

document.addEventListener("keydown", (event) => {
  if (event.key !== "b" || event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
  const next = SURROUNDS[(SURROUNDS.indexOf(document.documentElement.dataset.surround) + 1) % SURROUNDS.length];
  localStorage.setItem("surround", next);
  showSurround(next);
});

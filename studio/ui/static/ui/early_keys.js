// Keys pressed before the page's own script is there are kept in their order, and sent again by it.

window.earlyKeys = [];
document.addEventListener("keydown", (event) => {
  if (window.earlyKeys && !event.target.matches("input:not([type=radio]), textarea, select")) {
    window.earlyKeys.push({ key: event.key, shiftKey: event.shiftKey, ctrlKey: event.ctrlKey, metaKey: event.metaKey });
  }
});

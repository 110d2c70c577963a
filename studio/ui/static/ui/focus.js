// Where a control has had the focus and an answer takes it away, the focus goes to what stands in its place, so that
// a hand on the keyboard goes on from there and not from the top of the page. Fields are left alone: on a tablet one
// with the focus would open the keys.

const MOVES_TO = "a[href], button:not(:disabled), summary";

// The way down to a control from the body: which child of each part.
function wayTo(control) {
  const way = [];
  for (let part = control; part !== document.body; part = part.parentElement) {
    way.unshift([...part.parentElement.children].indexOf(part));
  }
  return way;
}

// The first control of the smallest part on that way which has one.
function standingAt(way) {
  const parts = [document.body];
  for (const place of way) {
    const part = parts.at(-1).children[place];
    if (!part) break;
    parts.push(part);
  }
  for (const part of parts.slice(1).reverse()) {
    const found = [part, ...part.querySelectorAll(MOVES_TO)].find((each) => each.matches(MOVES_TO) && each.checkVisibility());
    if (found) return found;
  }
  return null;
}

let left = null;

document.addEventListener("htmx:beforeSwap", ({ detail: { target } }) => {
  const control = document.activeElement;
  if (control !== document.body && target?.contains(control)) left = { way: wayTo(control), page: location.pathname };
});

document.addEventListener("htmx:afterSettle", () => {
  const was = left;
  left = null;
  if (!was || document.activeElement !== document.body || was.page !== location.pathname) return; // a new page begins at its top
  standingAt(was.way)?.focus({ preventScroll: true });
});

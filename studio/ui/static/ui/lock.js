// A tablet that nobody touches locks itself: the time counts over all of its tabs, and while it sleeps. While the server
// does not answer the page stays, with its clocks.

const TOUCHED = "touched";
const LOOK_MS = 5000;
const form = document.getElementById("lock");
const afterMs = Number(form?.dataset.after ?? 0) * 60_000;

async function lock() {
  try {
    const answer = await fetch(form.action, { method: "POST", body: new FormData(form), redirect: "manual" });
    if (answer.type === "opaqueredirect") location.reload(); // which leads to the lock
  } catch {
    // the connection is away: it is asked for again
  }
}

if (afterMs) {
  const touch = () => localStorage.setItem(TOUCHED, String(Date.now()));
  for (const kind of ["pointerdown", "keydown"]) addEventListener(kind, touch, { capture: true, passive: true });
  touch();
  setInterval(() => {
    if (Date.now() - Number(localStorage.getItem(TOUCHED)) > afterMs) lock();
  }, LOOK_MS);
}

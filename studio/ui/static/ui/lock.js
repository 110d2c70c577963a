// A tablet that nobody touches locks itself: the time counts over all of its tabs, and while it sleeps.

const TOUCHED = "touched";
const LOOK_MS = 5000;
const form = document.getElementById("lock");
const afterMs = Number(form?.dataset.after ?? 0) * 60_000;

if (afterMs) {
  const touch = () => localStorage.setItem(TOUCHED, String(Date.now()));
  for (const kind of ["pointerdown", "keydown"]) addEventListener(kind, touch, { capture: true, passive: true });
  touch();
  setInterval(() => {
    if (Date.now() - Number(localStorage.getItem(TOUCHED)) > afterMs) form.requestSubmit();
  }, LOOK_MS);
}

// Has this tablet keep the pages at the bowl, by the worker beside the page, for when the connection is lost. They go
// once nobody is signed in here, or somebody else is.

const SOON_MS = 3000, SELDOM_MS = 30_000;
const { person = "", tablet = "" } = document.body.dataset;
const AT_THE_BOWL = '.path a[href*="/pour/"], .path a[href*="/clock/"]';
let timer = null, keptAt = 0;

async function tell(what) {
  const ready = await navigator.serviceWorker.ready;
  ready.active.postMessage(what);
}

function keep() {
  timer = null;
  keptAt = Date.now();
  const pages = [location.href, ...[...document.querySelectorAll(AT_THE_BOWL)].map((link) => link.href)];
  const drawn = performance.getEntriesByType("resource").map((each) => each.name).filter((name) => name.includes("/static/"));
  tell({ keep: { person, pages: [...new Set(pages)], drawn: [...new Set(drawn)] } });
}

function keepSoon() {
  timer ??= setTimeout(keep, Math.max(SOON_MS, keptAt + SELDOM_MS - Date.now()));
}

if (navigator.serviceWorker && tablet) {
  navigator.serviceWorker.register(tablet, { scope: "/" }).catch(() => {});
  if (!person) tell({ forget: true });
  else if (document.querySelector(".path") && !document.documentElement.dataset.kept) {
    addEventListener("load", keepSoon, { once: true });
    if (document.readyState === "complete") keepSoon();
    document.addEventListener("outbox:empty", keepSoon);
  }
}

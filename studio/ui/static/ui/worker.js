// What a tablet keeps for an hour without connection: the pages at the bowl as they were last, and what draws them. It
// answers only where the server does not; nothing is kept but what a page asks to, and that goes with who signed in.

const DRAWN = "drawn", KEPT = "kept:", AWAY = "/away/", STATIC = "/static/";
const KEPT_MS = 12 * 3600_000; // as long as a change may wait
const PATIENCE_MS = 8000; // then the page as it was goes before one that may never come
const HASHED = /\.[0-9a-f]{12}\.\w+$/; // a file that never changes
const NAMED = /(?:src|href)="(\/static\/[^"#]+)"/g; // what a page is drawn with
const RESTS = [502, 503, 504];

self.addEventListener("install", (event) => {
  event.waitUntil(caches.open(DRAWN).then((shelf) => shelf.add(AWAY)).then(() => self.skipWaiting()));
});
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

self.addEventListener("message", (event) => {
  const { forget: isForgotten, keep: asked } = event.data;
  if (isForgotten) event.waitUntil(forget());
  if (asked) event.waitUntil(keep(asked));
});

const shelves = async (of = "") => (await caches.keys()).filter((name) => name.startsWith(KEPT + of));

async function forget(but = "") {
  for (const name of await shelves()) if (name !== but) await caches.delete(name);
}

async function keep({ person, pages, drawn }) {
  const name = `${KEPT}${person}`;
  await forget(name);
  const [shelf, files] = [await caches.open(name), await caches.open(DRAWN)];
  const draw = async (file) => (await files.match(file)) || files.add(file).catch(() => {});
  for (const file of drawn) await draw(file);
  for (const old of await shelf.keys()) if (!isFresh(await shelf.match(old))) await shelf.delete(old);
  for (const page of pages) {
    const answer = await fetch(page).catch(() => null);
    if (!answer?.ok || answer.redirected) continue;
    const headers = new Headers(answer.headers);
    headers.set("X-Kept-At", String(Date.now()));
    const text = await answer.text();
    for (const [, file] of text.matchAll(NAMED)) await draw(file);
    await shelf.put(page, new Response(text, { headers }));
  }
}

const isFresh = (answer) => Date.now() - Number(answer?.headers.get("X-Kept-At")) < KEPT_MS;

// A page as it was last, which says when that was; of the same place, if not of the same zone.
async function keptPage(request) {
  for (const name of await shelves()) {
    const shelf = await caches.open(name);
    const answer = (await shelf.match(request.url)) ?? (await shelf.match(request.url, { ignoreSearch: true }));
    if (!answer || !isFresh(answer)) continue;
    const text = await answer.text();
    return new Response(text.replace("<html ", `<html data-kept="${answer.headers.get("X-Kept-At")}" `), answer);
  }
  return undefined;
}

async function page(request) {
  const asked = fetch(request).catch(() => null);
  const late = new Promise((told) => setTimeout(told, PATIENCE_MS, null));
  const answer = await Promise.race([asked, late]);
  if (answer && !RESTS.includes(answer.status)) return answer;
  return (await keptPage(request)) ?? (await asked) ?? (await caches.match(AWAY)) ?? Response.error();
}

async function drawn(request) {
  const isSame = HASHED.test(new URL(request.url).pathname);
  const found = isSame && (await caches.match(request.url));
  if (found) return found;
  try {
    const answer = await fetch(request);
    if (answer.ok) (await caches.open(DRAWN)).put(request.url, answer.clone());
    return answer;
  } catch (lost) {
    const last = await caches.match(request.url);
    if (last) return last;
    throw lost;
  }
}

self.addEventListener("fetch", (event) => {
  const { request } = event, url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== location.origin) return;
  if (request.mode === "navigate") event.respondWith(page(request));
  else if (url.pathname.startsWith(STATIC)) event.respondWith(drawn(request));
});

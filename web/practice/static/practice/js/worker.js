// Looks after a remembered device: what the practice page needs is kept, and served when there is no
// network, for as long as the device is signed in. After that the door is all that it shows: results are
// not its business, they wait in the page's own store.

const CACHE = "still-reed-practice";
const PAGE = "/practice/";
const DOOR = "/practice/door/";
const ENDS = "x-signed-in-until";

self.addEventListener("install", (event) => {
  self.skipWaiting();
  event.waitUntil(caches.open(CACHE).then((cache) => cache.add(DOOR)).catch(() => {}));
});
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

const isPage = (url) => url.pathname === PAGE;
const isKept = (url) => isPage(url) || url.pathname.startsWith("/static/") || /^\/practice\/tasks\/\d+\/tone\.wav$/.test(url.pathname);

self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (event.request.method !== "GET" || url.origin !== location.origin || !isKept(url)) return;
  event.respondWith(isPage(url) ? page(event.request) : freshOrKept(event.request));
});
// the page says so when it hears that nobody is signed in any more
self.addEventListener("message", ({ data }) => data === "signed out" && forgetPage());

const forgetPage = async () => (await caches.open(CACHE)).delete(PAGE);

/** The session's page: fresh, or as it was kept while its sign-in lasts, or the door. */
async function page(request) {
  const cache = await caches.open(CACHE);
  let response;
  try {
    response = await fetch(request);
  } catch (gone) {
    const kept = await cache.match(PAGE, { ignoreVary: true });
    if (kept && Number(kept.headers.get(ENDS)) > Date.now()) return kept;
    await cache.delete(PAGE);
    const door = await cache.match(DOOR);
    if (door) return door;
    throw gone;
  }
  if (response.ok && !response.redirected && response.headers.has(ENDS)) await cache.put(PAGE, response.clone());
  else if (response.redirected || response.type === "opaqueredirect" || [401, 403, 404, 410].includes(response.status)) await cache.delete(PAGE);
  return response;
}

async function freshOrKept(request) {
  const cache = await caches.open(CACHE);
  try {
    const response = await fetch(request);
    if (response.ok && !response.redirected) await cache.put(request, response.clone());
    return response;
  } catch (gone) {
    const kept = await cache.match(request, { ignoreVary: true });
    if (kept) return kept;
    throw gone;
  }
}

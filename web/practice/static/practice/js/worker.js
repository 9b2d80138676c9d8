// Looks after a remembered device: what the practice page needs is kept, and served when there is no
// network. Results are not its business: they wait in the page's own store.

const CACHE = "still-reed-practice";
const PAGE = "/practice/";

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

const isPage = (url) => url.pathname === PAGE;
const isKept = (url) => isPage(url) || url.pathname.startsWith("/static/") || /^\/practice\/tasks\/\d+\/tone\.wav$/.test(url.pathname);

self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (event.request.method !== "GET" || url.origin !== location.origin || !isKept(url)) return;
  event.respondWith(freshOrKept(event.request));
});

async function freshOrKept(request) {
  const cache = await caches.open(CACHE);
  try {
    const response = await fetch(request);
    // a way to the sign-in page is not the session
    if (response.ok && !response.redirected) await cache.put(request, response.clone());
    return response;
  } catch (gone) {
    const kept = await cache.match(request, { ignoreVary: true });
    if (kept) return kept;
    throw gone;
  }
}

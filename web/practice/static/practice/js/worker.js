// Serves the practice page on a remembered device: stored, and available offline as long as the device is
// signed in. After that it shows only the sign-in page. Results are not handled here; they wait in the page's
// own store.

// The version of scripts and styles of this worker; the server inserts it.
const VERSION = "as it stands";
const PREFIX = "still-reed-practice";
const CACHE = `${PREFIX} ${VERSION}`;
const PAGE = "/practice/";
const DOOR = "/practice/door/";
const ENDS = "x-signed-in-until";

self.addEventListener("install", (event) => {
  self.skipWaiting();
  event.waitUntil(
    caches
      .open(CACHE)
      .then((cache) => cache.add(DOOR))
      .catch(() => {}),
  );
});
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

const isPage = (url) => url.pathname === PAGE;
const isKept = (url) => isPage(url) || /^\/(static|catalogue\/pictures)\//.test(url.pathname);

self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (event.request.method !== "GET" || url.origin !== location.origin || !isKept(url)) return;
  event.respondWith(isPage(url) ? page(event.request) : fromNetworkOrCache(event.request));
});
self.addEventListener("message", (event) => {
  if (event.data === "signed out") event.waitUntil(forgetPage()); // As reported by the page.
  if (event.data === "ready") event.waitUntil(prune()); // Everything that it needs has arrived.
});

const ourCaches = async () => (await caches.keys()).filter((name) => name.startsWith(PREFIX));

async function forgetPage() {
  for (const name of await ourCaches()) await (await caches.open(name)).delete(PAGE);
}

/** The stored copy of this version or, until this version has one, of the previous one. */
async function kept(request) {
  for (const name of [CACHE, ...(await ourCaches()).reverse()]) {
    const found = await (await caches.open(name)).match(request, { ignoreVary: true });
    if (found) return found;
  }
  return undefined;
}

/** Once a page of this version is stored, files of older ones are not needed. */
async function prune() {
  if (!(await (await caches.open(CACHE)).match(PAGE))) return;
  for (const name of await ourCaches()) if (name !== CACHE) await caches.delete(name);
}

/** The session page: from the server, or the stored copy while its sign-in lasts, or the sign-in page. */
async function page(request) {
  const cache = await caches.open(CACHE);
  let response;
  try {
    response = await fetch(request);
  } catch (gone) {
    const last = await kept(PAGE);
    if (last && Number(last.headers.get(ENDS)) > Date.now()) return last;
    await forgetPage();
    const door = await kept(DOOR);
    if (door) return door;
    throw gone;
  }
  if (response.ok && !response.redirected && response.headers.has(ENDS))
    await cache.put(PAGE, response.clone());
  else if (
    response.redirected ||
    response.type === "opaqueredirect" ||
    [401, 403, 404, 410].includes(response.status)
  )
    await forgetPage();
  return response;
}

async function fromNetworkOrCache(request) {
  const cache = await caches.open(CACHE);
  try {
    const response = await fetch(request);
    if (response.ok && !response.redirected) await cache.put(request, response.clone());
    return response;
  } catch (gone) {
    const last = await kept(request);
    if (last) return last;
    throw gone;
  }
}

// A reminder says that there is practice, and nothing about the person.
self.addEventListener("push", (event) => {
  const { title, body, url } = event.data.json();
  const shown = { body, tag: "practice", icon: "/static/ui/icon-192.png", data: { url } };
  event.waitUntil(self.registration.showNotification(title, shown));
});
self.addEventListener("notificationclick", (event) => {
  event.notification.close();
  event.waitUntil(openPractice(event.notification.data.url));
});

/** The page that is open already, or a new one. */
async function openPractice(url) {
  const [open] = await self.clients.matchAll({ type: "window" });
  return open ? open.focus() : self.clients.openWindow(url);
}

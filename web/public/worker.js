// Keeps the page itself at hand, so that a reload in mid-test works while the server is away.
// Results never pass through here: they wait in the outbox.
const SHELL = "shell-1";

// the page, its script and style, and the faces its style names: all that a reload needs
async function keepShell() {
  const cache = await caches.open(SHELL);
  const page = await fetch("/");
  const assets = (await page.clone().text()).match(/\/assets\/[^" ]+/g) ?? [];
  await cache.put("/", page);
  for (const asset of assets) {
    const answer = await kept(new Request(asset));
    if (!asset.endsWith(".css")) continue;
    const faces = (await answer.clone().text()).match(/\/assets\/[^")]+latin-wght[^")]+/g) ?? [];
    await Promise.all(faces.map((face) => kept(new Request(face))));
  }
}

self.addEventListener("install", (event) => {
  self.skipWaiting();
  event.waitUntil(keepShell());
});
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

async function fresh(request, key) {
  const cache = await caches.open(SHELL);
  try {
    const answer = await fetch(request);
    // the sign-in's page is for nobody who is signed in
    if (answer.ok && answer.headers.get("cache-control") !== "no-store") await cache.put(key, answer.clone());
    return answer;
  } catch (error) {
    const kept = await cache.match(key);
    if (kept) return kept;
    throw error;
  }
}

async function kept(request) {
  const cache = await caches.open(SHELL);
  const found = await cache.match(request);
  if (found) return found;
  const answer = await fetch(request);
  if (answer.ok) await cache.put(request, answer.clone());
  return answer;
}

self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (
    event.request.method !== "GET" ||
    url.origin !== self.location.origin ||
    url.pathname.startsWith("/api/")
  )
    return;
  // every screen is the same page; built files carry their content's hash in their names and never change
  if (event.request.mode === "navigate") event.respondWith(fresh(event.request, "/"));
  else if (url.pathname.startsWith("/assets/")) event.respondWith(kept(event.request));
});

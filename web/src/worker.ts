/// <reference lib="webworker" />
/**
 * Keeps the built pages at hand, so that the app starts without a server. Data never passes through here: what was read lies in
 * the page's own memory, and results wait in the outbox.
 */
import { clientsClaim } from "workbox-core";
import { cleanupOutdatedCaches, matchPrecache, precacheAndRoute } from "workbox-precaching";
import { NavigationRoute, registerRoute } from "workbox-routing";

declare const self: ServiceWorkerGlobalScope;

/** How long a server may think before the page at hand is opened. */
const PATIENCE_MS = 3000;

void self.skipWaiting();
clientsClaim();
// what earlier builds kept goes, and what a worker before this one kept under a name of its own
cleanupOutdatedCaches();
self.addEventListener("activate", (event) => event.waitUntil(caches.delete("shell-1")));
precacheAndRoute(self.__WB_MANIFEST);

// every screen is the same page: the server's where it answers, so that a new build is seen at once, else the one at hand
registerRoute(
  new NavigationRoute(
    async ({ request }) => {
      try {
        const answer = await fetch(request, { signal: AbortSignal.timeout(PATIENCE_MS) });
        // a proxy answers for a server that is away
        if (answer.status < 500) return answer;
      } catch {
        // no answer: the page at hand
      }
      return (await matchPrecache("/index.html")) ?? Response.error();
    },
    { denylist: [/^\/api\//, /\.\w+$/] },
  ),
);

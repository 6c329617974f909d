import { registerRoute } from "workbox-routing";
import { CacheFirst, NetworkFirst } from "workbox-strategies";

/** Beside a student's page: brings the page, its scripts and fonts and the pictures of a paper from this device where
 * the network does not. What the API says is never kept here: the page itself keeps the paper and the answers. */

const SECONDS_FOR_THE_PAGE = 4;
type Worker = {
  skipWaiting: () => Promise<void>;
  clients: { claim: () => Promise<void> };
  addEventListener: (name: string, listener: (event: { waitUntil: (work: Promise<unknown>) => void }) => void) => void;
};
const worker = globalThis as unknown as Worker;
// The page says where; a module that both have would be a file of its own, and a worker is one file.
const named = new URL(globalThis.location.href).searchParams;
const page = named.get("page") ?? "";
const pictures = named.get("pictures") ?? "";

worker.addEventListener("install", (event) => event.waitUntil(worker.skipWaiting()));
// A page that is open already is looked after too: it may have loaded its paper before this worker was there.
worker.addEventListener("activate", (event) => event.waitUntil(worker.clients.claim()));

// A picture and a file of the build never change under their address.
registerRoute(
  ({ url, sameOrigin }) => sameOrigin && url.pathname.startsWith("/pictures/"),
  new CacheFirst({ cacheName: pictures }),
);
registerRoute(
  ({ url, sameOrigin }) => sameOrigin && url.pathname.startsWith("/static/assets/"),
  new CacheFirst({ cacheName: page }),
);
const ifItComes = { cacheName: page, networkTimeoutSeconds: SECONDS_FOR_THE_PAGE };
registerRoute(({ url, sameOrigin }) => sameOrigin && url.pathname.startsWith("/static/"), new NetworkFirst(ifItComes));
registerRoute(
  ({ request, url }) => request.mode === "navigate" && url.pathname === "/join",
  // A code or a pass in the address is none of what is kept.
  new NetworkFirst({ ...ifItComes, plugins: [{ cacheKeyWillBeUsed: async () => "/join" }] }),
);

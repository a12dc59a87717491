/* Lets the page at the wall load without a connection: what was fetched last is used. It never touches what is sent. */
"use strict";
const STORE = "dividers-wall-1";
const HELD = [/^\/jobs\/\d+\/wall$/, /^\/jobs\/\d+\/wall\/held$/, /^\/static\//];
const nameOf = (url) => (url.pathname.endsWith("/held") ? url.href : url.origin + url.pathname);

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));
self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (event.request.method !== "GET" || url.origin !== self.location.origin || !HELD.some((each) => each.test(url.pathname))) return;
  event.respondWith((async () => {
    const cache = await caches.open(STORE);
    try {
      const answer = await fetch(event.request);
      if (answer.ok && !answer.redirected) await cache.put(nameOf(url), answer.clone());
      return answer;
    } catch (fault) {
      const kept = await cache.match(nameOf(url));
      if (kept) return kept;
      throw fault;
    }
  })());
});

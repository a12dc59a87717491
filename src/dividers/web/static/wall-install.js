/* Keeping the page: as an app, where the browser offers it, and for when there is no connection, from the first visit on. Only over https, or on the machine itself. */
"use strict";
(() => {
  const button = document.getElementById("install");
  let offer = null;
  window.addEventListener("beforeinstallprompt", (event) => {
    event.preventDefault();
    offer = event;
    button.hidden = false;
  });
  window.addEventListener("appinstalled", () => { button.hidden = true; });
  button?.addEventListener("click", async () => {
    await offer?.prompt();
    button.hidden = true;
  });

  // The worker keeps what it fetches, but this page was fetched before there was one.
  const wall = document.getElementById("wall");
  const keep = async () => {
    await navigator.serviceWorker.ready;
    const cache = await caches.open("dividers-wall-1");
    const parts = [...document.querySelectorAll("link[rel=stylesheet], link[rel=preload], link[rel=icon], script[src]")].map((part) => part.href || part.src);
    for (const address of [location.origin + location.pathname, new URL(wall.dataset.held, location.href).href, ...parts]) {
      if (!(await cache.match(address))) await cache.add(address);
    }
    wall.dataset.kept = "yes";
  };
  if (wall && navigator.serviceWorker && window.caches) keep().catch(() => { /* the next visit tries again */ });
})();

/* The wall page from three metres, and for the left hand. Both are kept on this device. From afar only what is next stands there, as large as it fits, with the
   time left of the clock that runs out first; the whole picture ticks what is shown. What is asked (a check, an early start) closes it, so that it is seen. */
"use strict";
(() => {
  const root = document.documentElement, far = document.querySelector("#afar");
  if (!far) return;
  const kept = (key) => localStorage.getItem(`dividers ${key}`) === "on";
  const keep = (key, on) => localStorage.setItem(`dividers ${key}`, on ? "on" : "off");
  const slot = (name) => far.querySelector(`[data-afar-${name}]`);
  const text = (place) => place?.textContent.replace(/\s+/g, " ").trim() ?? "";
  const own = (place) => [...(place?.childNodes ?? [])].filter((node) => node.nodeName !== "SMALL").map((node) => node.textContent).join(" ").replace(/\s+/g, " ").trim();
  const step = () => document.querySelector("article.step");
  const row = () => step()?.querySelector(".ticks li:has([aria-pressed='false'])") ?? null;
  const act = () => [...document.querySelectorAll("#bar-act button")].find((button) => button.offsetParent !== null || far.open) ?? null;
  const asked = () => [...(step()?.querySelectorAll(".keep-check") ?? [])].some((box) => !box.hidden);

  const fit = () => { // the largest letters that fit
    const place = slot("what"), room = place.parentElement;
    let low = 24, high = Math.min(innerHeight, innerWidth) * 0.6;
    while (high - low > 2) {
      const size = (low + high) / 2;
      place.style.fontSize = `${size}px`;
      if (room.scrollHeight > room.clientHeight || place.scrollWidth > room.clientWidth) high = size; else low = size;
    }
    place.style.fontSize = `${low * 0.94}px`;
  };
  const set = (name, words) => { const place = slot(name); if (place.textContent !== words) { place.textContent = words; return true; } return false; };
  const show = () => {
    if (!far.open) return;
    if (asked()) { close(); return; }
    const next = row(), button = act(), timer = document.querySelector("#timers .timer");
    const words = next?.querySelector(".tick-words");
    let moved = set("step", [text(step()?.querySelector(".step-piece")), text(step()?.querySelector("#step-title"))].filter(Boolean).join(": "));
    moved = set("what", next ? own(words) : button ? text(button) : text(step()?.querySelector("#step-title"))) || moved;
    moved = set("where", next ? [text(next.querySelector(".tick-number")), text(words.querySelector("small"))].filter(Boolean).join(", ") : text(step()?.querySelector("[data-slot=count]"))) || moved;
    set("clock", timer ? `${text(timer.querySelector(".timer-left"))} ${own(timer.querySelector(".timer-words"))}` : "");
    if (moved) fit();
  };
  const close = () => { keep("afar", false); far.close(); };
  document.querySelector("[data-afar-on]").addEventListener("click", () => { keep("afar", true); far.showModal(); show(); fit(); });
  slot("off").addEventListener("click", (event) => { event.stopPropagation(); close(); });
  far.addEventListener("cancel", () => keep("afar", false));
  let pressed = -Infinity; // a second press within the same moment is the same press
  slot("next").addEventListener("click", () => {
    if (performance.now() - pressed < 400) return;
    pressed = performance.now();
    (row()?.querySelector("button") ?? act())?.click();
    setTimeout(show, 60);
  });
  for (const way of ["before", "after"]) slot(way).addEventListener("click", () => document.querySelector(`.wall-bar [data-way=${way}]:not(.none)`)?.click());
  addEventListener("resize", () => { if (far.open) fit(); });
  new MutationObserver(show).observe(document.querySelector("#main"), { childList: true, subtree: true, attributes: true, attributeFilter: ["aria-pressed", "hidden"], characterData: true });

  const hand = document.querySelector("[data-left]");
  const side = (left) => { root.dataset.hand = left ? "left" : "right"; hand.setAttribute("aria-pressed", String(left)); };
  hand.addEventListener("click", () => { keep("left hand", !kept("left hand")); side(kept("left hand")); });
  side(kept("left hand"));
  if (kept("afar") && step()) { far.showModal(); show(); requestAnimationFrame(fit); }
})();

/* What a page does beyond its forms: lists and drawing light each other up, zoom, keys. Everything works without it. */
"use strict";
(() => {
  const each = (selector, act) => document.querySelectorAll(selector).forEach(act);
  document.documentElement.classList.add("htmx-ready");

  // What is being typed, or was typed since its form was last taken, is never touched by an answer: the next request takes it.
  const typedAt = new WeakMap(), sentAt = new WeakMap(), takenAt = new WeakMap();
  document.addEventListener("input", (event) => typedAt.set(event.target, performance.now()), true);
  document.addEventListener("htmx:beforeRequest", (event) => sentAt.set(event.detail.xhr, performance.now()));
  document.addEventListener("htmx:beforeSwap", (event) => {
    const { xhr, requestConfig } = event.detail;
    const form = requestConfig.elt.closest("form");
    if (form && requestConfig.verb !== "get" && xhr.status < 400) takenAt.set(form, sentAt.get(xhr) ?? 0);
  });
  if (window.Idiomorph) {
    // A button that was pressed is redrawn like the rest, words and value: only fields keep what is in them.
    document.addEventListener("htmx:beforeSwap", () => {
      Idiomorph.defaults.ignoreActiveValue = !!document.activeElement?.matches("input, textarea, select");
    });
    Idiomorph.defaults.callbacks.beforeNodeMorphed = (old, fresh) => !(typedAt.get(old) > (takenAt.get(old.form) ?? 0) && old.name === fresh.name);
    // What is said of a save that failed stays until it is made good.
    Idiomorph.defaults.callbacks.beforeNodeRemoved = (node) => !node.classList?.contains("unsaved");
  }

  // Lists and drawing: what is pointed at or focused lights up everywhere.
  const light = (key) => each("[data-link]", (part) => part.classList.toggle("lit", part.dataset.link === key));
  const keyOf = (event) => event.target.closest?.("[data-link]")?.dataset.link;
  for (const kind of ["mouseover", "focusin"]) document.addEventListener(kind, (event) => light(keyOf(event)));
  document.addEventListener("click", (event) => {
    const part = event.target.closest?.("svg [data-link]");
    if (part) document.querySelector(`tr[data-link="${part.dataset.link}"]`)?.scrollIntoView({ block: "nearest" });
  });

  // Zoom and pan by the drawing's viewBox.
  const drawing = () => document.querySelector("#drawing svg.drawing");
  let seen = null; // kept while the drawing is redrawn
  const whole = () => drawing().dataset.whole ||= drawing().getAttribute("viewBox");
  const show = (box) => { seen = box; drawing().setAttribute("viewBox", box.join(" ")); };
  const now = () => (whole(), drawing().getAttribute("viewBox").split(" ").map(Number));
  const zoom = (factor, px = 0.5, py = 0.5) => {
    const [x, y, w, h] = now();
    show([x + w * (1 - factor) * px, y + h * (1 - factor) * py, w * factor, h * factor]);
  };
  const pan = (dx, dy) => { const [x, y, w, h] = now(); show([x + w * dx, y + h * dy, w, h]); };
  const acts = { in: () => zoom(0.7), out: () => zoom(1 / 0.7), whole: () => { drawing().setAttribute("viewBox", whole()); seen = null; } };
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-zoom]");
    if (button && drawing()) acts[button.dataset.zoom]();
  });
  document.addEventListener("wheel", (event) => {
    const frame = event.target.closest?.("#drawing");
    if (!frame || !event.ctrlKey) return; // plain wheel scrolls the page
    event.preventDefault();
    const box = frame.getBoundingClientRect();
    zoom(event.deltaY > 0 ? 1.15 : 1 / 1.15, (event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height);
  }, { passive: false });
  let held = null;
  document.addEventListener("pointerdown", (event) => {
    if (seen && event.target.closest?.("#drawing") && event.button === 0) held = [event.clientX, event.clientY];
  });
  document.addEventListener("pointermove", (event) => {
    if (!held || !drawing()) return;
    const box = drawing().getBoundingClientRect();
    pan((held[0] - event.clientX) / box.width, (held[1] - event.clientY) / box.height);
    held = [event.clientX, event.clientY];
  });
  document.addEventListener("pointerup", () => { held = null; });

  // The time zone of this browser is suggested where nobody has said one.
  const zone = document.querySelector('select[data-suggest="zone"]');
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  if (zone && [...zone.options].some((option) => option.value === here)) zone.value = here;

  // Keys: digits go to stations, brackets step through rounds, ? shows them.
  const typing = (target) => target.closest?.("input, select, textarea, dialog");
  const follow = (link) => { if (link) link.click(); };
  const arrows = { ArrowLeft: [-0.1, 0], ArrowRight: [0.1, 0], ArrowUp: [0, -0.1], ArrowDown: [0, 0.1] };
  document.addEventListener("keydown", (event) => {
    if (typing(event.target) || event.altKey || event.metaKey) return;
    if (event.ctrlKey) {
      const turn = { z: "#undo button", y: "#redo button" }[event.key];
      if (turn) { event.preventDefault(); document.querySelector(turn)?.click(); }
      return;
    }
    const act = { "+": acts.in, "-": acts.out, 0: acts.whole }[event.key];
    if (act && drawing()) act();
    else if (/^[1-9]$/.test(event.key)) follow(document.querySelector(`[data-key="${event.key}"]`));
    else if (event.key === "[") follow(document.querySelector('[data-step="before"]'));
    else if (event.key === "]") follow(document.querySelector('[data-step="after"]'));
    else if (event.key === "?") document.getElementById("keys")?.showModal();
    else if (arrows[event.key] && seen && event.target.closest?.("#drawing")) { event.preventDefault(); pan(...arrows[event.key]); }
  });

  // The strip with what is due next counts by the server's clock; the page at the wall has its own.
  let ahead = 0;
  const learn = () => { const strip = document.getElementById("due"); if (strip) ahead = Number(strip.dataset.now) - Date.now(); };
  const { left } = globalThis.DividersWords;
  const count = () => each("#due [data-due]", (place) => { place.textContent = left(Number(place.dataset.due) - Date.now() - ahead); });
  if (!document.getElementById("wall")) {
    learn();
    count();
    setInterval(count, 1000);
    document.addEventListener("htmx:afterSettle", () => { learn(); count(); });
  }
})();

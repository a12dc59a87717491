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
  const turned = new Set();
  document.addEventListener("click", (event) => {
    const fold = event.target.closest?.("summary")?.parentElement;
    if (fold?.id) turned.add(fold.id);
  });
  if (window.Idiomorph) {
    // A button that was pressed is redrawn like the rest, words and value: only fields keep what is in them.
    document.addEventListener("htmx:beforeSwap", () => {
      Idiomorph.defaults.ignoreActiveValue = !!document.activeElement?.matches("input, textarea, select");
    });
    // A picture that is the same, or said to be and not sent again, is left alone: there are many, with hundreds of parts.
    Idiomorph.defaults.callbacks.beforeNodeMorphed = (old, fresh) => !(old.localName === "svg" && ("kept" in fresh.dataset || old.isEqualNode(fresh))) && !(typedAt.get(old) > (takenAt.get(old.form) ?? 0) && old.name === fresh.name);
    // What was opened or folded stays so.
    Idiomorph.defaults.callbacks.beforeAttributeUpdated = (name, node) => !(name === "open" && node.localName === "details" && turned.has(node.id));
    // What is said of a save that failed stays until it is made good, and what is asked in the drawing until it is answered.
    Idiomorph.defaults.callbacks.beforeNodeRemoved = (node) => !node.classList?.contains("unsaved") && !["on-handle", "measure-here", "part-here"].includes(node.id);
  }

  // What was pressed or typed before the scripts were there is sent now. Fields that the browser fills in again on going back are left alone.
  const differs = (field) => field.type === "radio" || field.type === "checkbox" ? field.checked !== field.defaultChecked
    : field.options ? [...field.options].some((option) => option.selected !== option.defaultSelected) && [...field.options].some((option) => option.defaultSelected)
      : "defaultValue" in field && field.value !== field.defaultValue;
  const early = () => {
    const form = document.getElementById("controls");
    if (!form || performance.getEntriesByType("navigation")[0]?.type !== "navigate") return;
    if ([...form.elements].some((field) => field.name && differs(field))) globalThis.htmx?.trigger(form, "submit");
  };
  document.addEventListener("DOMContentLoaded", () => setTimeout(early));

  // Lists and drawing: what is pointed at or focused lights up everywhere.
  const light = (key) => each("[data-link]", (part) => part.classList.toggle("lit", part.dataset.link === key));
  const keyOf = (event) => event.target.closest?.("[data-link]")?.dataset.link;
  for (const kind of ["mouseover", "focusin"]) document.addEventListener(kind, (event) => light(keyOf(event)));
  document.addEventListener("click", (event) => {
    const part = event.target.closest?.("svg [data-link]");
    if (!part) return;
    const row = document.querySelector(`:is(tr, li)[data-link="${part.dataset.link}"]`);
    for (let fold = row?.parentElement.closest("details"); fold; fold = fold.parentElement.closest("details")) fold.open = true;
    row?.scrollIntoView({ block: "nearest" });
  });

  // Finding in a long list: rows that don't hold every word are hidden.
  const filter = (box) => {
    const words = box.value.toLowerCase().split(/\s+/).filter(Boolean);
    each(`${box.dataset.filter} [data-find]`, (row) => {
      const said = row.dataset.find.toLowerCase().split(/[\s,]+/);
      row.hidden = !words.every((word) => (/^\d+$/.test(word) ? said.includes(word) : row.dataset.find.toLowerCase().includes(word)));
    });
  };
  document.addEventListener("input", (event) => { if (event.target.dataset?.filter) filter(event.target); });
  document.addEventListener("htmx:afterSettle", () => each("[data-filter]", filter));

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
  // The drawing alone, over the whole window; by a button, by f, and back by Escape.
  const alone = (on) => {
    document.documentElement.classList.toggle("whole-window", on);
    if (!on && document.fullscreenElement) document.exitFullscreen();
    if (on) { shut(null); document.getElementById("drawing")?.focus(); }
  };
  document.addEventListener("click", (event) => { if (event.target.closest?.("[data-whole-window]")) alone(true); });
  // A menu closes when something else is pressed; so does what was chosen from pictures.
  const shut = (except) => each("details.menu[open], details.look-fold[open]", (menu) => { if (!menu.contains(except)) menu.open = false; });
  document.addEventListener("click", (event) => shut(event.target));
  document.addEventListener("change", (event) => { if (event.target.closest?.(".look-choices")) shut(null); });
  document.addEventListener("keydown", (event) => {
    if (event.key !== "Escape") return;
    const menu = event.target.closest?.("details.menu[open], details.look-fold[open], details.sheet-up[open]") ?? document.querySelector("details.menu[open], details.look-fold[open]");
    if (menu) { menu.open = false; menu.querySelector("summary").focus(); }
    else alone(false);
  });

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

  // Two fingers on the drawing move and zoom it; one scrolls the page.
  const spread = ([a, b]) => [(a.clientX + b.clientX) / 2, (a.clientY + b.clientY) / 2, Math.hypot(a.clientX - b.clientX, a.clientY - b.clientY)];
  let pinch = null;
  document.addEventListener("touchstart", (event) => {
    pinch = event.touches.length === 2 && event.target.closest?.("#drawing") && drawing() ? spread(event.touches) : null;
    if (pinch) { held = null; event.preventDefault(); }
  }, { passive: false });
  document.addEventListener("touchmove", (event) => {
    if (!pinch || event.touches.length !== 2) return;
    event.preventDefault();
    const box = drawing().getBoundingClientRect(), [x, y, wide] = spread(event.touches);
    pan((pinch[0] - x) / box.width, (pinch[1] - y) / box.height);
    if (wide > 10) zoom(pinch[2] / wide, (x - box.left) / box.width, (y - box.top) / box.height);
    pinch = [x, y, wide];
  }, { passive: false });
  for (const kind of ["touchend", "touchcancel"]) document.addEventListener(kind, () => { pinch = null; });

  document.addEventListener("click", (event) => event.target.closest?.("[data-close]")?.closest(event.target.dataset.close)?.remove());

  // The time zone of this browser is suggested where nobody has said one.
  const zone = document.querySelector('select[data-suggest="zone"]');
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  if (zone && [...zone.options].some((option) => option.value === here)) zone.value = here;

  // Keys: digits go to stations, brackets step through rounds, ? shows them.
  // Single keys act on the drawing while it has the focus; elsewhere only once somebody has asked for them, in the dialog that the button Keys opens.
  const KEYS = "dividers-keys";
  const keysOn = () => localStorage.getItem(KEYS) === "on";
  document.addEventListener("click", (event) => {
    if (!event.target.closest?.("[data-show-keys]")) return;
    const dialog = document.getElementById("keys");
    dialog.querySelector("input").checked = keysOn();
    dialog.showModal();
  });
  document.addEventListener("change", (event) => {
    if (event.target.id === "keys-on") localStorage.setItem(KEYS, event.target.checked ? "on" : "off");
  });
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
    if (!keysOn() && !event.target.closest?.("#drawing")) return;
    const act = { "+": acts.in, "-": acts.out, 0: acts.whole }[event.key];
    if (act && drawing()) act();
    else if (/^[1-9]$/.test(event.key)) follow(document.querySelector(`[data-key="${event.key}"]`));
    else if (event.key === "[") follow(document.querySelector('[data-step="before"]'));
    else if (event.key === "]") follow(document.querySelector('[data-step="after"]'));
    else if (event.key === "f" && drawing()) alone(!document.documentElement.classList.contains("whole-window"));
    else if (event.key === "?") document.querySelector("[data-show-keys]")?.click();
    else if (arrows[event.key] && seen && event.target.closest?.("#drawing")) { event.preventDefault(); pan(...arrows[event.key]); }
  });

  // After a form that loads the page anew, such as Undo, columns stand where they stood and what was opened is open.
  const COLUMNS = ["#lists", "#controls-column"];
  const place = `place ${location.pathname}`;
  document.addEventListener("submit", () => {
    const tops = COLUMNS.map((name) => document.querySelector(name)?.scrollTop ?? 0);
    const opened = [...document.querySelectorAll("details[id][open]:not(.menu, .look-fold)")].map((fold) => fold.id);
    sessionStorage.setItem(place, JSON.stringify([...tops, scrollY, opened]));
  });
  const tops = JSON.parse(sessionStorage.getItem(place) ?? "null");
  if (tops) {
    sessionStorage.removeItem(place);
    for (const id of tops.pop()) document.getElementById(id)?.setAttribute("open", "");
    COLUMNS.forEach((name, turn) => { const column = document.querySelector(name); if (column) column.scrollTop = tops[turn]; });
    if (!location.hash) scrollTo(0, tops[COLUMNS.length]);
  }

  // A row of pieces or layers that is too long begins with the one that is looked at.
  for (const row of document.querySelectorAll("#pieces ol, .layer-strip ol")) {
    const here = row.querySelector(".here");
    if (here && row.scrollWidth > row.clientWidth) row.scrollLeft = here.offsetLeft - row.offsetLeft - 12;
  }

  // A browser's own picker beside a date writes it into the field, where it can also be typed.
  document.addEventListener("change", (event) => {
    const field = event.target.dataset?.picks && document.getElementById(event.target.dataset.picks);
    if (!field || !event.target.value) return;
    field.value = event.target.value.replace("T", " ");
    field.dispatchEvent(new Event("input", { bubbles: true }));
    field.dispatchEvent(new Event("change", { bubbles: true }));
  });

  // Fractions of an inch by one tap, under the length that is being typed: as fine as the tape measure's own.
  const FINEST = 16, keyRow = document.createElement("div");
  let keyed = null;
  keyRow.className = "fraction-keys";
  keyRow.setAttribute("role", "group");
  keyRow.setAttribute("aria-label", "Fractions");
  for (let parts = 2; parts <= FINEST; parts *= 2) {
    for (let part = 1; part < parts; part += 2) {
      keyRow.append(Object.assign(document.createElement("button"), { type: "button", textContent: `${part}/${parts}`, className: "btn btn-sm btn-secondary", tabIndex: -1 }));
    }
  }
  document.addEventListener("focusin", (event) => {
    const field = event.target;
    if (!field.matches?.("[data-length]")) return;
    field.inputMode = "decimal";
    if (field.dataset.length !== "in" || !matchMedia("(pointer: coarse)").matches) return keyRow.remove();
    keyRow.hidden = false;
    keyed = field;
    (field.closest("#measures") ?? field).after(keyRow);
  });
  keyRow.addEventListener("pointerdown", (event) => {
    event.preventDefault(); // the field keeps the keyboard
    const field = keyed, fraction = event.target.textContent;
    if (!event.target.matches("button") || !field?.isConnected) return;
    const whole = field.value.trim().replace(/\s*\d+\/\d+$/, "").replace(/\s*\/?$/, "");
    field.value = whole ? `${whole} ${fraction}` : fraction;
    field.dispatchEvent(new Event("input", { bubbles: true }));
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

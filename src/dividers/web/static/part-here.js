/* A part pressed in the drawing at Pattern: it asks for another colour, or lays a layer there. By keys the settings do the same. */
"use strict";
(() => {
  const DRAG_PX = 4;
  const frame = () => document.getElementById("drawing");
  const box = () => document.getElementById("part-here");
  const shut = () => { box()?.remove(); document.querySelectorAll("#drawing .zone-part").forEach((part) => part.classList.remove("zone-part")); };
  const data = () => JSON.parse(document.getElementById("part-asked").dataset.here);

  // A button of the settings that isn't there otherwise.
  const act = (value) => {
    const form = document.getElementById("controls"), button = Object.assign(document.createElement("button"), { name: "action", value, hidden: true });
    form.append(button);
    button.click();
  };
  // The list that gives a region its own colour, where the pattern is filled region by region.
  const regionOf = (part) => document.querySelector(`li[data-link="${part.dataset.link}"] select[name=action]`);
  const color = (part, from, to) => {
    const region = regionOf(part);
    if (!region) return act(`swap-colors:${from}:${to}`);
    region.value = [...region.options].find((option) => option.value.startsWith("fill:") && option.value.split(":")[4] === to).value;
    region.dispatchEvent(new Event("change", { bubbles: true }));
  };
  const layerForm = () => document.querySelector("#new-layer form.layer-form");
  // A layer in all parts of a colour, each by itself, begins as one line in the middle.
  const lineInEach = (of) => {
    const form = layerForm();
    form.querySelector("[name=where][value=color]").checked = true;
    form.querySelector("[name=color]").value = of;
    form.querySelector("[name=each]").checked = true;
    form.requestSubmit();
  };
  const isOf = (part, button) => button.textContent.trim().replace(/, (the base|painted)$/, "") === part.querySelector("title")?.textContent && button.dataset.hex === part.getAttribute("fill");

  const ask = (part, x, y) => {
    shut();
    part.classList.add("zone-part");
    const { layer, layers, named, bare, banded } = data(), own = document.getElementById("part-asked").content.firstElementChild.cloneNode(true);
    const title = part.querySelector("title")?.textContent ?? "", buttons = [...own.querySelectorAll("[data-part-color]")], alike = buttons.filter((button) => isOf(part, button));
    const now = alike.find((button) => named.includes(button.dataset.partColor)) ?? alike[0];
    const on = part.closest("g[data-layer]")?.dataset.layer, below = on !== undefined && Number(on) !== layer, region = regionOf(part);
    own.querySelector("[data-part-said]").textContent = `${title[0]?.toUpperCase() ?? ""}${title.slice(1)}`;
    own.setAttribute("aria-label", title);
    const swaps = !below && now && (region || named.includes(now.dataset.partColor));
    own.querySelector("[data-part-colors]").hidden = !swaps;
    own.querySelector("[data-part-how]").textContent = region ? "This region becomes:" : "All of it becomes:";
    if (!swaps && !below && (now?.dataset.partColor === "" || title.endsWith("outside the pattern"))) own.querySelector("[data-part-said]").textContent += `. ${bare}`;
    if (now) now.remove();
    if (swaps && !region) for (const button of buttons) if (named.includes(button.dataset.partColor)) button.append(" (changes places)");
    const go = own.querySelector("[data-part-go]");
    if (below) { go.hidden = false; go.href = `?layer=${on}`; go.textContent = `Change ${layers[on]}`; }
    const line = own.querySelector("[data-part-line]"), of = `${on ?? layer}:${now?.dataset.partColor ?? ""}`;
    line.hidden = !now || !banded.includes(Number(on ?? layer)) || !layerForm()?.querySelector(`[name=color] option[value="${of}"]`);
    own.addEventListener("click", (event) => {
      if (event.target.closest("[data-part-line]")) { shut(); return lineInEach(of); } // gone at once: a second press adds no second line
      const chosen = event.target.closest("[data-part-color]");
      if (chosen) { shut(); color(part, now.dataset.partColor, chosen.dataset.partColor); frame().focus({ preventScroll: true }); }
      if (event.target.closest("[data-part-layer]")) { own.remove(); document.dispatchEvent(new CustomEvent("dividers:lay-in", { detail: part })); }
    });
    frame().append(own);
    const whole = frame().getBoundingClientRect();
    own.style.left = `${Math.max(Math.min(x - whole.left + 12, whole.width - own.offsetWidth - 4), 0)}px`;
    own.style.top = `${Math.max(Math.min(y - whole.top + 12, whole.height - own.offsetHeight - 4), 0)}px`;
    own.querySelector("button:not([hidden])")?.focus({ preventScroll: true });
  };

  let from = null;
  document.addEventListener("pointerdown", (event) => {
    if (box()?.contains(event.target)) return;
    from = [event.clientX, event.clientY];
  });
  document.addEventListener("click", (event) => {
    if (box()?.contains(event.target)) return;
    const part = event.target.closest?.("#drawing .cell[data-link]"), again = part?.classList.contains("zone-part");
    shut();
    if (!part || again || !document.getElementById("part-asked") || frame().classList.contains("draws") || (from && Math.hypot(event.clientX - from[0], event.clientY - from[1]) > DRAG_PX)) return;
    ask(part, event.clientX, event.clientY);
  });
  document.addEventListener("keydown", (event) => { if (event.key === "Escape" && box()) { shut(); frame()?.focus({ preventScroll: true }); } });
})();

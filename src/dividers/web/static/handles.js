/* Handles in the drawing: a margin, an opening, a horizon is dragged, and the reading is written into its field, which is what counts.
   Pressed and not dragged, it is typed there, and what else belongs to it opens among the settings. By keys the field itself is typed in. */
"use strict";
(() => {
  const NS = "http://www.w3.org/2000/svg", HALF_PX = 7, REACH_PX = 22;
  const frame = () => document.getElementById("drawing");
  const svg = () => frame()?.querySelector("svg.drawing");
  // A zone's sides have their fields in the form that lays a layer elsewhere.
  const zoneForm = () => document.querySelector("#new-layer form.layer-form");
  const field = (handle) => (handle.field.startsWith("zone.") ? zoneForm()?.querySelector(`[name=${handle.field.slice(5)}]`) : document.getElementsByName(handle.field)[0]);
  const layElsewhere = () => {
    const form = zoneForm(), own = held.field.slice(5);
    for (const [side, text] of Object.entries({ ...data.zone, [own]: written(at) })) form.querySelector(`[name=${side}]`).value = text;
    form.querySelector("[name=where][value=rect]").checked = true;
    form.querySelector("[name=elsewhere]")?.click();
  };
  let data = null, held = null, at = 0, moved = false;

  const element = (name, attributes, text) => {
    const made = document.createElementNS(NS, name);
    for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, value);
    if (text) made.textContent = text;
    return made;
  };
  const scale = () => svg().getScreenCTM().a;
  const place = (event) => new DOMPoint(event.clientX, event.clientY).matrixTransform(svg().getScreenCTM().inverse());
  const written = (mm) => {
    if (data.unit !== "in") return data.unit === "cm" ? `${Math.round(mm) / 10}` : `${Math.round(mm)}`;
    let under = Math.max(Math.round(25.4 / data.steps[0]), 1), parts = Math.round(mm / 25.4 * under);
    const whole = Math.floor(parts / under);
    parts %= under;
    while (parts && parts % 2 === 0) { parts /= 2; under /= 2; }
    return [whole || !parts ? whole : "", parts ? `${parts}/${under}` : ""].filter((part) => part !== "").join(" ");
  };
  // What the field would hold: a length, or the count whose size it is.
  const heldAs = (handle, mm) => (handle.counts.length ? String(handle.counts.find(([, size]) => Math.abs(size - mm) < 0.01)?.[0] ?? "") : written(mm));
  const length = (point) => {
    const raw = ((held.axis ? point.y : point.x) - held.zero) * held.way, step = data.steps.find((each) => each * scale() >= 1) ?? data.steps.at(-1);
    if (held.counts.length) return held.counts.map(([, size]) => size).sort((a, b) => Math.abs(a - raw) - Math.abs(b - raw))[0];
    return Math.min(Math.max(Math.round(raw / step) * step, held.least), held.most);
  };
  // Where a handle's line would be while it is dragged, with its reading beside it.
  const paint = () => {
    const picture = svg();
    picture?.querySelector(".layer-handles")?.remove();
    if (!picture || !data || frame().classList.contains("draws")) return;
    const layer = element("g", { class: "layer-handles" }), half = HALF_PX / scale();
    for (const handle of apart()) {
      const across = handle.axis ? { width: 3 * half, height: half } : { width: half, height: 3 * half };
      const x = handle === held && !handle.axis ? handle.zero + handle.way * at : handle.x, y = handle === held && handle.axis ? handle.zero + handle.way * at : handle.y;
      const box = element("rect", { class: `handle${handle === held ? " held" : ""}`, x: x - across.width / 2, y: y - across.height / 2, rx: half / 2, ...across });
      box.append(element("title", {}, `${handle.name}: drag, or type it in its field`));
      layer.append(box);
      if (handle !== held) continue;
      const [left, top, wide, high] = picture.getAttribute("viewBox").split(" ").map(Number);
      layer.prepend(element("line", { class: "handle-line", ...(handle.axis ? { x1: left, x2: left + wide, y1: y, y2: y } : { x1: x, x2: x, y1: top, y2: top + high }) }));
      layer.append(element("text", { class: "handle-reading", "font-size": 16 / scale(), x: x + 2.5 * half, y: y - 2.5 * half }, handle.counts.length ? `${heldAs(handle, at)}: ${written(at)} ${data.unit}` : `${written(at)} ${data.unit}`));
    }
    picture.append(layer);
  };
  const read = () => {
    held = null;
    data = frame()?.dataset.handles ? JSON.parse(frame().dataset.handles) : null;
    if (data && svg()) paint();
  };
  // Those that can be taken hold of: of a small opening, whose sides lie too near each other on the screen, the first.
  const thing = (handle) => handle.field.slice(0, handle.field.lastIndexOf("."));
  const apart = () => {
    const least = 4 * HALF_PX / scale(), found = [];
    for (const handle of data.all) if (field(handle) && field(handle).type !== "hidden" && (handle === held || !found.some((other) => thing(other) === thing(handle) && Math.hypot(other.x - handle.x, other.y - handle.y) < least))) found.push(handle);
    return found;
  };
  const nearest = (point) => apart().map((handle) => ({ handle, gap: Math.hypot(handle.x - point.x, handle.y - point.y) })).sort((a, b) => a.gap - b.gap)[0];
  const take = (handle, text) => {
    const own = field(handle), parts = handle.turn === null ? null : own.value.split(/,\s*/);
    if (parts) parts[handle.turn] = text;
    const value = parts ? parts.join(", ") : text;
    if (value === own.value) return;
    own.value = value;
    own.dispatchEvent(new Event("input", { bubbles: true }));
    own.dispatchEvent(new Event("change", { bubbles: true }));
  };
  // A field of one handle, where it lies in the drawing.
  const typeAt = (handle) => {
    document.getElementById("on-handle")?.remove();
    for (const name of [handle.field, handle.field.replace(".margin.", ".edges.")]) {
      const fold = document.getElementsByName(name)[0]?.closest("details.more-fields");
      if (fold && !fold.open) fold.querySelector("summary").click();
    }
    const own = field(handle), box = frame().getBoundingClientRect(), input = document.createElement("input");
    const at = new DOMPoint(handle.x, handle.y).matrixTransform(svg().getScreenCTM());
    Object.assign(input, { id: "on-handle", className: "form-control", autocomplete: "off", value: handle.turn === null ? own.value : own.value.split(/,\s*/)[handle.turn] });
    input.setAttribute("aria-label", handle.name);
    if (own.dataset.length) input.dataset.length = own.dataset.length;
    input.style.left = `${Math.min(Math.max(at.x - box.left - 56, 0), box.width - 116)}px`;
    input.style.top = `${Math.min(Math.max(at.y - box.top - 20, 0), box.height - 44)}px`;
    let over = false; // taking it away is a change and a blur of its own
    const shut = () => { if (!over) { over = true; input.remove(); } };
    const done = () => { if (!over) { shut(); take(handle, input.value); } };
    input.addEventListener("input", (event) => event.stopPropagation());
    input.addEventListener("change", (event) => { event.stopPropagation(); done(); });
    input.addEventListener("blur", shut);
    input.addEventListener("keydown", (event) => {
      event.stopPropagation();
      if (event.key === "Escape") { shut(); frame().focus(); }
      if (event.key === "Enter") { event.preventDefault(); done(); frame().focus(); }
    });
    frame().append(input);
    input.focus();
    input.select();
  };
  const write = () => {
    if (held.field.startsWith("zone.")) { if (Math.abs(at - Math.abs((held.axis ? held.y : held.x) - held.zero)) > 0.05) layElsewhere(); return; }
    if (moved) take(held, heldAs(held, at));
    else typeAt(held);
  };
  document.addEventListener("pointerdown", (event) => {
    if (!data || event.button || !event.target.closest?.("#drawing svg") || frame().classList.contains("draws")) return;
    const found = nearest(place(event));
    if (!found || found.gap * scale() > (event.pointerType === "touch" ? REACH_PX : HALF_PX * 1.6)) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    held = found.handle;
    moved = false;
    at = Math.abs((held.axis ? held.y : held.x) - held.zero);
    svg().setPointerCapture?.(event.pointerId);
    paint();
  }, true);
  document.addEventListener("pointermove", (event) => { if (held) { event.preventDefault(); const now = length(place(event)); moved ||= Math.abs(now - at) > 0.05; at = now; paint(); } });
  document.addEventListener("pointerup", (event) => {
    if (!held) return;
    event.stopImmediatePropagation();
    write();
    held = null;
    paint();
  }, true);
  document.addEventListener("pointercancel", () => { held = null; paint(); });
  document.addEventListener("keydown", (event) => { if (held && event.key === "Escape") { held = null; paint(); } });
  document.addEventListener("DOMContentLoaded", read);
  document.addEventListener("htmx:afterSettle", read);
  document.addEventListener("click", (event) => { if (event.target.closest?.("#draw [data-do], [data-zoom]")) setTimeout(paint); });
})();

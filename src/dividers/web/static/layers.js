/* Layers at Pattern: point at a part or draw a rectangle for the next one, see them grow, drag them. All of it works without, by the form. */
"use strict";
(() => {
  const stack = () => document.getElementById("layers");
  const svg = () => document.querySelector("#drawing svg.drawing");
  const form = () => stack()?.querySelector("#new-layer form.layer-form");
  const choose = (way) => { const radio = form()?.querySelector(`[name=where][value=${way}]`); if (radio) { radio.closest("label").hidden = false; radio.checked = true; } };

  const unfold = () => { for (let fold = form()?.closest("details"); fold; fold = fold.parentElement.closest("details")) fold.open = true; };

  // What is seen: layers up to the slider's, without those whose eye is closed.
  const hidden = new Set();
  let grown = Infinity;
  const show = () => {
    document.querySelectorAll("#drawing g[data-layer]").forEach((group) => {
      const layer = Number(group.dataset.layer);
      group.style.display = layer < grown && !hidden.has(layer) ? "" : "none";
    });
    const grow = stack()?.querySelector(".layer-grow");
    if (!grow) return;
    grow.hidden = false;
    const range = grow.querySelector("input");
    if (grown < Infinity) range.value = grown;
    grow.querySelector("output").textContent = `${range.value} of ${range.max}`;
    stack().querySelectorAll("[data-see-layer]").forEach((eye) => { eye.checked = !hidden.has(Number(eye.dataset.seeLayer)); });
  };
  document.addEventListener("input", (event) => {
    if (event.target.matches?.("[data-grow]")) { grown = Number(event.target.value); show(); }
    const eye = event.target.dataset?.seeLayer;
    if (eye !== undefined) { hidden[event.target.checked ? "delete" : "add"](Number(eye)); show(); }
    if (event.target.closest?.(".layer-sides")) choose("rect");
    if (event.target.matches?.(".layer-ways [name=points]")) choose("points");
    if (event.target.matches?.(".layer-ways [name=color]")) choose("color");
  });

  // A part that was pointed at: the form says which it is.
  document.addEventListener("dividers:lay-in", ({ detail: part }) => {
    if (!form()) return;
    form().querySelector("[name=part]").value = part.dataset.link;
    form().querySelector("[data-part-words]").textContent = `in the part you pointed at (${part.dataset.link.slice(1)}, ${part.querySelector("title")?.textContent ?? ""})`;
    choose("part");
    unfold();
    form().querySelector("[name=where][value=part]").focus();
  });

  // Drawing a rectangle: a drag over the drawing, in the panel's own lengths.
  let drawing = null;
  const at = (event) => {
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg().getScreenCTM().inverse());
    const box = svg().querySelector(".layer-outlines path")?.getBBox();
    return { x: point.x, y: point.y, left: box?.x ?? 0, top: box?.y ?? 0, right: box ? box.x + box.width : point.x, bottom: box ? box.y + box.height : point.y };
  };
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-draw-zone]");
    if (!button) return;
    drawing = drawing ? null : {};
    button.setAttribute("aria-pressed", String(!!drawing));
    document.getElementById("drawing").classList.toggle("draws", !!drawing);
    if (drawing) document.getElementById("drawing").scrollIntoView({ block: "nearest" });
  });
  const within = (value, low, high) => Math.min(Math.max(value, low), high);
  const read = (mm, unit) => unit === "in" ? `${Math.round(mm / 25.4 * 4) / 4}` : unit === "cm" ? `${Math.round(mm / 5) / 2}` : `${Math.round(mm / 5) * 5}`;
  document.addEventListener("pointerdown", (event) => {
    if (!drawing || !event.target.closest?.("#drawing svg")) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    drawing.from = at(event);
    drawing.shape = document.createElementNS("http://www.w3.org/2000/svg", "rect");
    drawing.shape.setAttribute("class", "zone-drawn");
    svg().append(drawing.shape);
    event.target.setPointerCapture?.(event.pointerId);
  }, true);
  document.addEventListener("pointermove", (event) => {
    if (!drawing?.from) return;
    const to = at(event), { from } = drawing;
    const box = [Math.min(from.x, to.x), Math.min(from.y, to.y), Math.max(from.x, to.x), Math.max(from.y, to.y)];
    drawing.box = [within(box[0], to.left, to.right), within(box[1], to.top, to.bottom), within(box[2], to.left, to.right), within(box[3], to.top, to.bottom)];
    const [x, y, right, bottom] = drawing.box;
    for (const [key, value] of Object.entries({ x, y, width: right - x, height: bottom - y })) drawing.shape.setAttribute(key, value);
  });
  document.addEventListener("pointerup", (event) => {
    if (!drawing?.from) return;
    const { box, shape } = drawing, { left, top } = at(event), own = form();
    shape.remove();
    drawing = null;
    document.getElementById("drawing").classList.remove("draws");
    own?.querySelector("[data-draw-zone]").setAttribute("aria-pressed", "false");
    if (!own || !box) return;
    const unit = document.querySelector(".units [aria-pressed=true]")?.value ?? "mm";
    const sides = { left: box[0] - left, top: box[1] - top, width: box[2] - box[0], height: box[3] - box[1] };
    for (const [key, mm] of Object.entries(sides)) own.querySelector(`[name=${key}]`).value = read(mm, unit);
    choose("rect");
    unfold();
  });

  // The strip's way to a fold of the settings.
  document.addEventListener("click", (event) => {
    const goal = document.getElementById(event.target.closest?.(".layer-strip a[href^='#']")?.hash.slice(1) ?? "");
    if (!goal) return;
    event.preventDefault();
    for (let fold = goal; fold; fold = fold.parentElement.closest("details")) fold.open = true;
    goal.scrollIntoView({ block: "nearest" });
    goal.querySelector("summary").focus({ preventScroll: true });
  });

  // Dragging a row to another place in the stack.
  let dragged = null;
  const row = (event) => event.target.closest?.("[data-layer-row]");
  document.addEventListener("dragstart", (event) => { dragged = row(event)?.dataset.layerRow ?? null; });
  document.addEventListener("dragover", (event) => { if (dragged !== null && row(event)) event.preventDefault(); });
  document.addEventListener("drop", (event) => {
    const onto = row(event);
    if (dragged === null || !onto || onto.dataset.layerRow === dragged) { dragged = null; return; }
    event.preventDefault();
    const own = stack().querySelector(`[data-layer-acts="${dragged}"] form`);
    for (const [name, value] of [["do", "to"], ["to", onto.dataset.layerRow]]) own.append(Object.assign(document.createElement("input"), { type: "hidden", name, value }));
    dragged = null;
    own.requestSubmit();
  });

  const ready = () => { show(); const draw = stack()?.querySelector("[data-draw-zone]"); if (draw) draw.hidden = false; };
  document.addEventListener("DOMContentLoaded", ready);
  document.addEventListener("htmx:afterSettle", ready);
})();

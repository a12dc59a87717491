/* The logbook's drawing: a click gives a place and the strip there; pins show what was found where. */
"use strict";
(() => {
  const svg = document.querySelector("#drawing svg.drawing");
  if (!svg) return;
  const em = Number(svg.getAttribute("font-size"));
  const pin = (x, y, words, kind) => {
    const group = document.createElementNS("http://www.w3.org/2000/svg", "g");
    group.setAttribute("class", `pin ${kind}`);
    const circle = document.createElementNS("http://www.w3.org/2000/svg", "circle");
    for (const [name, value] of [["cx", x], ["cy", y], ["r", em * 0.8]]) circle.setAttribute(name, value);
    const text = document.createElementNS("http://www.w3.org/2000/svg", "text");
    for (const [name, value] of [["x", x], ["y", y + em * 0.35]]) text.setAttribute(name, value);
    text.textContent = words;
    group.append(circle, text);
    svg.append(group);
    return group;
  };
  document.querySelectorAll("#pins g").forEach((each) => pin(Number(each.dataset.x), Number(each.dataset.y), each.dataset.number, each.dataset.kind));
  let picked = null;
  svg.addEventListener("click", (event) => {
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    picked?.remove();
    picked = pin(at.x, at.y, "", "picked");
    const form = document.querySelector("#finding form");
    if (!form) return;
    form.querySelector("details").open = true;
    form.elements.x_mm.value = at.x.toFixed(0);
    form.elements.y_mm.value = at.y.toFixed(0);
    const strip = event.target.closest("[data-link^='s']");
    if (strip) form.elements.strip.value = strip.dataset.link.slice(1);
  });
})();

/* Figures in the drawing: never smaller than can be read, at any zoom. Where they would lie over one another, they thin out. */
"use strict";
(() => {
  const SMALLEST_PX = 10, LARGEST_PX = 26, LEAST_EM = 0.8; // the smallest role is written at 0.8 of the drawing's own size
  const FIRST = ["label-panel", "label-opening", "label-mark", "label-strip", "label-ruler"];
  const rank = (label) => { const at = FIRST.findIndex((role) => label.classList.contains(role)); return at < 0 ? FIRST.length : at; };
  const apart = (a, b) => a.right <= b.left || b.right <= a.left || a.bottom <= b.top || b.bottom <= a.top;

  const dress = () => {
    const drawing = document.querySelector("#drawing svg.drawing");
    const scale = drawing?.getScreenCTM()?.a;
    if (!scale) return;
    const own = Number(drawing.getAttribute("font-size"));
    const size = Math.min(Math.max(own, SMALLEST_PX / LEAST_EM / scale), LARGEST_PX / scale);
    drawing.style.fontSize = `${size}px`;
    const labels = [...drawing.querySelectorAll(".layer-labels text")];
    labels.forEach((label) => label.classList.remove("thinned"));
    const kept = [], boxes = labels.map((label, turn) => ({ label, turn, box: label.getBoundingClientRect() }));
    for (const { label, box } of boxes.sort((a, b) => rank(a.label) - rank(b.label) || a.turn - b.turn)) {
      if (kept.every((other) => apart(box, other))) kept.push(box);
      else label.classList.add("thinned");
    }
  };
  let asked = 0;
  const soon = () => { cancelAnimationFrame(asked); asked = requestAnimationFrame(dress); };
  const sized = new ResizeObserver(soon);
  const begin = () => {
    const frame = document.getElementById("drawing");
    if (frame) sized.observe(frame);
    soon();
  };
  document.addEventListener("DOMContentLoaded", begin);
  document.addEventListener("htmx:afterSettle", begin);
  new MutationObserver(soon).observe(document.documentElement, { subtree: true, attributeFilter: ["viewBox"] });
  document.fonts?.ready.then(soon);
})();

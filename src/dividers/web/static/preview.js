/* Corners on a photo: dragged, or moved by arrow keys; the pattern follows when they are let go. */
"use strict";
(() => {
  let held = null;
  let later = 0;
  const frame = () => document.querySelector(".preview-frame");
  const field = (axis, corner) => document.querySelector(`#corners [name="${axis}${corner}"]`);
  const move = (handle, x, y) => {
    const circle = handle.querySelector("circle");
    circle.setAttribute("cx", x);
    circle.setAttribute("cy", y);
    for (const [axis, at] of [["x", x], ["y", y]]) {
      const own = field(axis, handle.dataset.corner);
      own.value = at.toFixed(1);
      own.dispatchEvent(new Event("input", { bubbles: true })); // as if typed: no answer on its way overwrites it
    }
  };
  const settle = (wait) => {
    clearTimeout(later);
    later = setTimeout(() => document.getElementById("corners").dispatchEvent(new Event("moved", { bubbles: true })), wait);
  };
  document.addEventListener("pointerdown", (event) => {
    const handle = event.target.closest(".handle");
    if (!handle) return;
    held = handle;
    event.preventDefault();
    handle.focus();
  });
  document.addEventListener("pointermove", (event) => {
    if (!held) return;
    const box = frame().getBoundingClientRect();
    const { wide, high } = frame().dataset;
    move(held, ((event.clientX - box.left) / box.width) * wide, ((event.clientY - box.top) / box.height) * high);
  });
  document.addEventListener("pointerup", () => { if (held) settle(0); held = null; });
  const ways = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  document.addEventListener("keydown", (event) => {
    const handle = event.target.closest(".handle");
    if (!handle || !ways[event.key]) return;
    event.preventDefault();
    const step = event.shiftKey ? 10 : 1;
    const [dx, dy] = ways[event.key];
    move(handle, Number(field("x", handle.dataset.corner).value) + dx * step, Number(field("y", handle.dataset.corner).value) + dy * step);
    settle(400);
  });
})();

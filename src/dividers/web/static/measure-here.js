/* A width, a height or a diagonal typed where it was taken: a press in the drawing asks for it, and the form of readings takes it. */
"use strict";
(() => {
  const NEAR_PX = 14;
  const frame = () => document.getElementById("drawing");
  const svg = () => frame()?.querySelector("svg.drawing");
  const unit = () => document.querySelector(".units [aria-pressed='true']")?.value ?? "mm";
  const form = () => document.getElementById("add-reading");
  // The outline that a place lies in, and its panel's number; one that is turned in the drawing has none.
  const outlineAt = ({ x, y }) => {
    const numbers = JSON.parse(frame().dataset.measured ?? "[]");
    const found = [...svg().querySelectorAll(".layer-outlines path")].map((each, turn) => ({ outline: each.getBBox(), panel: numbers[turn] }));
    return found.find(({ outline: { x: left, y: top, width, height }, panel }) => Number.isInteger(panel) && x >= left && y >= top && x <= left + width && y <= top + height);
  };
  // A place is said as roughly as it is pointed at.
  const place = (mm) => ({ in: `${Math.round(mm / 25.4)}`, cm: `${Math.round(mm / 10)}`, mm: `${Math.round(mm / 10) * 10}` })[unit()];

  // Once it is over, what its going away says (a change, a blur) counts for nothing.
  let over = true;
  const shut = () => { if (!over) { over = true; document.getElementById("measure-here")?.remove(); } };
  const take = (what, length, at, panel) => {
    const own = form();
    if (over || !own || !length.trim()) return;
    shut();
    for (const [name, value] of Object.entries({ what, length, at, panel })) own.querySelector(`[name=${name}]`).value = value;
    own.requestSubmit();
  };
  const asked = (box, panel, what, words, at) => {
    const label = document.createElement("label"), input = document.createElement("input");
    Object.assign(input, { className: "form-control", autocomplete: "off" });
    input.dataset.length = unit();
    input.addEventListener("keydown", (event) => { if (event.key === "Enter") { event.preventDefault(); take(what, input.value, at, panel); } });
    input.addEventListener("change", () => take(what, input.value, at, panel));
    label.append(words, input);
    box.append(label);
  };
  const ask = (x, y) => {
    const matrix = svg().getScreenCTM(), at = new DOMPoint(x, y).matrixTransform(matrix.inverse()), found = outlineAt(at);
    if (!found) return;
    const { outline, panel } = found;
    over = false;
    const box = document.createElement("div"), own = frame().getBoundingClientRect(), along = at.x - outline.x, down = at.y - outline.y;
    box.id = "measure-here";
    box.setAttribute("role", "group");
    box.setAttribute("aria-label", "Measured here");
    // How far the press is from each diagonal, on the screen.
    const { width, height } = outline, off = (rising) => Math.abs(along * height - (rising ? height - down : down) * width) / Math.hypot(width, height) * matrix.a;
    if (off(false) < NEAR_PX) asked(box, panel, "falling", "Diagonal, top left to bottom right", "");
    else if (off(true) < NEAR_PX) asked(box, panel, "rising", "Diagonal, bottom left to top right", "");
    asked(box, panel, "width", `Width, ${place(down)} ${unit()} down`, place(down));
    asked(box, panel, "height", `Height, ${place(along)} ${unit()} along`, place(along));
    frame().append(box);
    box.querySelector("input").focus(); // with the keys of a phone under it, before it is placed
    box.style.left = `${Math.max(Math.min(x - own.left + 8, own.width - box.offsetWidth - 4), 0)}px`;
    box.style.top = `${Math.max(Math.min(y - own.top + 8, own.height - box.offsetHeight - 4), 0)}px`;
  };
  let from = null;
  document.addEventListener("pointerdown", (event) => {
    const box = document.getElementById("measure-here");
    if (box?.contains(event.target)) return;
    from = null;
    if ([...box?.querySelectorAll("input") ?? []].some((input) => input.value.trim())) return; // left, which takes it
    shut();
    from = event.target.closest?.("#drawing svg.drawing") && !event.button && !document.getElementById("on-handle") ? [event.clientX, event.clientY] : null;
  });
  document.addEventListener("click", (event) => {
    if (!from || !form() || !event.target.closest?.("#drawing svg.drawing") || Math.hypot(event.clientX - from[0], event.clientY - from[1]) > 4) return;
    ask(event.clientX, event.clientY);
  });
  document.addEventListener("keydown", (event) => { if (event.key === "Escape" && document.getElementById("measure-here")) { shut(); frame()?.focus(); } });
})();

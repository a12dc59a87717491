/* Lines laid on a photo: their ends are dragged, or moved by arrow keys; the form's fields have their places. */
"use strict";
(() => {
  const holder = document.querySelector("#edge-picture"), form = document.querySelector("#edge-form");
  if (!holder || !form) return;
  const svg = holder.querySelector("svg"), loupe = holder.querySelector(".loupe"), { width, height } = svg.viewBox.baseVal;
  const field = (name, axis) => form.elements[name + axis];
  const place = (name) => [Number(field(name, "x").value), Number(field(name, "y").value)];
  const there = (name) => field(name, "x").value !== "" && field(name, "y").value !== "";

  const show = () => {
    svg.querySelectorAll("[data-ends]").forEach((line) => {
      const [one, other] = line.dataset.ends.split(" "), shown = there(one) && there(other);
      line.style.display = shown ? "" : "none";
      if (!shown) return;
      const [[x1, y1], [x2, y2]] = [place(one), place(other)];
      for (const [name, value] of Object.entries({ x1, y1, x2, y2 })) line.setAttribute(name, value);
    });
    svg.querySelectorAll("[data-place]").forEach((grip) => {
      const shown = there(grip.dataset.place);
      grip.style.display = shown ? "" : "none";
      if (!shown) return;
      const [x, y] = place(grip.dataset.place);
      grip.setAttribute("cx", x);
      grip.setAttribute("cy", y);
    });
  };
  const look = (name) => {
    const [x, y] = place(name), reach = width / 40;
    loupe.toggleAttribute("hidden", false);
    loupe.setAttribute("viewBox", `${x - reach} ${y - reach} ${2 * reach} ${2 * reach}`);
    loupe.querySelector(".cross").setAttribute("d", `M${x - reach} ${y}H${x + reach}M${x} ${y - reach}V${y + reach}`);
    loupe.classList.toggle("right", x < width / 2); // never under the finger
  };
  const put = (name, x, y) => {
    field(name, "x").value = Math.min(Math.max(x, 0), width).toFixed(1);
    field(name, "y").value = Math.min(Math.max(y, 0), height).toFixed(1);
    show();
    look(name);
  };
  svg.querySelectorAll("[data-place]").forEach((grip) => {
    const name = grip.dataset.place;
    grip.addEventListener("pointerdown", (event) => { grip.setPointerCapture(event.pointerId); event.preventDefault(); grip.focus(); look(name); });
    grip.addEventListener("pointermove", (event) => {
      if (!grip.hasPointerCapture(event.pointerId)) return;
      const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
      put(name, at.x, at.y);
    });
    grip.addEventListener("pointerup", () => loupe.toggleAttribute("hidden", true));
    grip.addEventListener("focus", () => look(name));
    grip.addEventListener("blur", () => loupe.toggleAttribute("hidden", true));
    grip.addEventListener("keydown", (event) => {
      const [dx, dy] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key] ?? [0, 0];
      if (!dx && !dy) return;
      event.preventDefault();
      const [x, y] = place(name), step = event.shiftKey ? 20 : 1;
      put(name, x + dx * step, y + dy * step);
    });
  });
  form.querySelector("[data-second]").addEventListener("click", () => {
    if (!there("l1")) { put("l1", width * 0.8, height * 0.25); put("l2", width * 0.9, height * 0.25); }
  });
  const size = () => { // as large as a fingertip, whatever the picture is shown at
    const scale = svg.getScreenCTM()?.a || 1;
    svg.querySelectorAll("[data-place]").forEach((grip) => grip.setAttribute("r", 14 / scale));
  };
  addEventListener("resize", size);
  size();
  form.addEventListener("input", show);
  show();
})();

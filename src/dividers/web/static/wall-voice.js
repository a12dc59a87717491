/* Reading aloud at the wall with the browser's own voice, off until wanted: the step, the next mark or strip, what is told when a clock runs out. One large area,
   the space bar or a foot pedal (page down, arrow right) ticks what was read and reads the next; R or arrow left reads it again. */
"use strict";
(() => {
  const voice = globalThis.speechSynthesis, bar = () => document.querySelector("[data-voice-bar]"), KEPT = "dividers reads aloud";
  if (!voice) return;
  let on = localStorage.getItem(KEPT) === "on", said = "";

  const say = (words) => {
    if (!on) return;
    said = words;
    voice.cancel();
    const speech = new SpeechSynthesisUtterance(words);
    speech.lang = document.documentElement.lang || "en";
    voice.speak(speech);
    const place = bar()?.querySelector("[data-voice-said]");
    if (place) place.textContent = words;
  };
  const step = () => document.querySelector("article.step");
  const title = () => step()?.querySelector("#step-title")?.textContent.trim() ?? "";
  const following = () => step()?.querySelector(".ticks li:has([aria-pressed='false'])") ?? null;
  const sayRow = () => {
    const row = following();
    say(row ? `${row.dataset.said}` : `${title()}. All ticked.`);
  };
  const sayStep = () => {
    const row = following(), wait = step()?.querySelector("[data-slot=wait]:not([hidden])")?.textContent.trim() ?? "";
    say([title(), wait, row ? `First: ${row.dataset.said}` : ""].filter(Boolean).join(". "));
  };
  let pressed = -Infinity; // a second press within the same moment is the same press
  const next = () => {
    if (performance.now() - pressed < 400) return;
    pressed = performance.now();
    const row = following();
    if (!row) return sayStep();
    row.querySelector("button").click();
    setTimeout(sayRow, 60);
  };
  const again = () => (said ? say(said) : sayStep());
  const show = () => {
    const place = bar();
    if (!place) return;
    place.hidden = false;
    place.querySelector("[data-voice-on]").setAttribute("aria-pressed", String(on));
    place.querySelector("[data-voice-acts]").hidden = !on;
  };
  document.addEventListener("click", (event) => {
    if (event.target.closest?.("[data-voice-on]")) {
      on = !on;
      localStorage.setItem(KEPT, on ? "on" : "off");
      show();
      if (on) { bar().querySelector("[data-voice-next]").focus(); sayStep(); } else { voice.cancel(); said = ""; }
    } else if (event.target.closest?.("[data-voice-next]")) next();
    else if (event.target.closest?.("[data-voice-again]")) again();
  });
  document.addEventListener("keydown", (event) => {
    if (!on || event.repeat || event.target.closest?.("input, select, textarea, button, a, summary") || event.ctrlKey || event.metaKey || event.altKey) return;
    const act = { " ": next, PageDown: next, ArrowRight: next, r: again, R: again, ArrowLeft: again, PageUp: again }[event.key];
    if (act) { event.preventDefault(); act(); }
  });
  // Another step is shown: it is read. What is told when a clock runs out is read too.
  let shown = "";
  const look = () => {
    show();
    const key = step()?.dataset.task ?? "";
    if (on && key && key !== shown) sayStep();
    shown = key;
  };
  new MutationObserver(look).observe(document.body, { childList: true, subtree: true });
  document.addEventListener("DOMContentLoaded", look);
  document.addEventListener("dividers:alarm", (event) => { if (on && event.detail) say(event.detail); });
})();

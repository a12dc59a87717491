/* At the wall: what is asked before a step is begun: strips that nobody ticked, waits that still run, steps that come before. */
"use strict";
globalThis.DividersAsk = (() => {
  const { said, spoken, upper } = globalThis.DividersWords;
  const find = (selector, within) => within.querySelector(selector);
  const OPEN = globalThis.DividersWall.OPEN;

  // The strips that a first coat needs and that nobody has ticked off.
  const missing = (step, view) => {
    if (!step || !step.dataset.needs || !OPEN.includes(view.tasks[step.dataset.task]?.state)) return [];
    const made = view.ticks[step.dataset.cover] || [];
    return step.dataset.needs.split(" ").filter((item) => !made.includes(item));
  };

  // What speaks against beginning a step at a moment, as it is asked and as it is recorded; null where nothing does.
  const early = (view, key, at, now, answered) => {
    const task = view.tasks[key];
    if (!task || !OPEN.includes(task.state)) return null;
    const [asked, noted] = [[], []];
    const first = task.firsts.length === 1 && task.firsts[0] === answered ? "" : task.first;
    if (first) { asked.push(`Before it comes ${first}, which isn't done.`); noted.push(`before ${first}`); }
    if (task.ready && task.ready > at) {
      const more = spoken(Math.ceil((task.ready - at) / 6e4 - 1e-6));
      asked.push(`${upper(task.why)}: ${more} more, until ${said(task.ready, now)}.`);
      noted.push(`${task.why}: ${more} more`);
    }
    return asked.length ? { asked: asked.join(" "), noted: noted.join("; ") } : null;
  };

  const show = (step, slot, words) => {
    for (const other of ["keep", "early"]) find(`[data-slot="${other}"]`, step).hidden = other !== slot;
    if (!slot) return;
    find(`[data-slot="${slot}-said"]`, step).textContent = words;
    const box = find(`[data-slot="${slot}"]`, step);
    box.scrollIntoView({ block: "center" });
    find("a.btn-primary, button", box).focus({ preventScroll: true });
  };

  const strips = (left) => {
    const numbers = left.slice(0, 12).map((item) => item.slice(1)).join(", ");
    return `${left.length} strip${left.length > 1 ? "s" : ""} of this round not ticked: ${numbers}${left.length > 12 ? " …" : ""}.`;
  };

  // What is asked before an entry is made, remembered on the step; the answers are the entry's further parts. Null: asked, and no entry yet.
  const before = (step, view, data, at, now) => {
    const answer = data.anyway || data.early;
    const { kind } = answer && step.dataset.asked ? JSON.parse(step.dataset.asked) : data;
    const anyway = data.anyway || (answer && step.dataset.anyway) || "";
    const ago = answer && step.dataset.asked ? JSON.parse(step.dataset.asked).ago : data.ago;
    if (!["start", "done"].includes(kind)) return { kind, anyway, ago, early: "" };
    step.dataset.asked = JSON.stringify({ kind, ago });
    step.dataset.anyway = anyway;
    const moment = at - Number(ago || 0) * 6e4;
    const left = missing(step, view);
    if (!anyway && left.length) { show(step, "keep", strips(left)); return null; }
    const found = early(view, step.dataset.task, moment, now, anyway ? step.dataset.cover : "");
    if (found && !data.early) { show(step, "early", found.asked); return null; }
    show(step, "");
    delete step.dataset.asked;
    return { kind, anyway, ago, early: found ? found.noted : "" };
  };

  return { missing, early, before };
})();

/* At the wall: what is asked before an entry is made, all together and once: what nobody ticked, waits that still run, steps that come before, how long it took.
   `core/wall/questions.py` and `web/wall/asking_back.py` ask the same. */
"use strict";
globalThis.DividersAsk = (() => {
  const { said, spoken, upper } = globalThis.DividersWords;
  const find = (selector, within) => within.querySelector(selector);
  const OPEN = globalThis.DividersWall.OPEN;
  const QUICK_SHARE = 0.1, QUICK_LEAST_MIN = 5, SHOWN_ITEMS = 12;

  // The strips that a first coat needs, or the marks of a step that is done, that nobody has ticked off.
  const missing = (step, view, kind) => {
    const { needs, cover, task } = step?.dataset ?? {};
    const state = view.tasks[task]?.state;
    const asks = step?.dataset.kind === "mark" ? kind === "done" && ["running", ...OPEN].includes(state) : OPEN.includes(state);
    if (!needs || !asks) return [];
    const made = view.ticks[cover] || [];
    return needs.split(" ").filter((item) => !made.includes(item));
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

  // What is asked of a step that is recorded as done: nobody began it, or only just now; "" where its minutes are known.
  const howLong = (view, key, at) => {
    const task = view.tasks[key];
    if (!task || !(task.minutes >= QUICK_LEAST_MIN) || !["running", ...OPEN].includes(task.state)) return "";
    if (!task.started) return `Nobody recorded when it was begun. How many minutes did it take? About ${spoken(task.minutes)} are planned.`;
    const since = (at - task.started) / 6e4;
    if (since >= QUICK_SHARE * task.minutes) return "";
    const ago = since < 1 ? `${Math.max(Math.round(since * 60), 0)} s` : spoken(Math.round(since));
    return `It was begun ${ago} ago, and about ${spoken(task.minutes)} are planned. Is it done?`;
  };

  const items = (step, left) => {
    const marks = step.dataset.kind === "mark";
    const numbers = left.slice(0, SHOWN_ITEMS).map((item) => item.slice(1)).join(", ") + (left.length > SHOWN_ITEMS ? " …" : "");
    const which = `${left.length} ${marks ? "mark" : "strip"}${left.length > 1 ? "s" : ""} of this ${marks ? "step" : "round"} not ticked: ${numbers}.`;
    return `${which} ${marks ? "Are they all made?" : "Check what is painted and what stays: are all strips on?"}`;
  };

  const slot = (step, name) => find(`[data-slot="${name}"]`, step);
  const show = (step, data, asked) => {
    const box = slot(step, "ask");
    box.hidden = !asked.said.length;
    if (box.hidden) return;
    const marks = step.dataset.kind === "mark", ticks = asked.left.length > 0;
    slot(step, "asked").replaceChildren(...asked.said.map((words) => Object.assign(document.createElement("li"), { textContent: words })));
    for (const name of ["kind", "ago"]) find(`form [name="${name}"]`, box).value = data[name] ?? "";
    find("[name=took]", box).value = data.took ?? "";
    slot(step, "took").hidden = !asked.minutes;
    slot(step, "tick").hidden = !ticks;
    slot(step, "look").hidden = !ticks || marks;
    slot(step, "tick").textContent = marks ? "They are made: tick them" : "They are on: tick them";
    slot(step, "go").textContent = ticks ? (marks ? "Done anyway" : "Paint anyway") : asked.early || !asked.minutes ? "Go on now" : "It is done";
    slot(step, "stay").textContent = asked.early ? "Wait" : "Not yet";
    for (const [name, first] of [["stay", asked.early && !ticks], ["go", !asked.early && !ticks]]) slot(step, name).classList.toggle("btn-primary", first);
    box.scrollIntoView({ block: "center" });
    (asked.minutes && !ticks && !asked.early ? find("[name=took]", box) : find(".answers-row .btn-primary:not([hidden])", box)).focus({ preventScroll: true });
  };

  // Everything that is asked about an entry of a form.
  const questions = (step, view, data, at, now) => {
    const { kind } = data, task = step.dataset.task;
    if (!["start", "done"].includes(kind)) return { said: [], left: [], noted: "" };
    const left = missing(step, view, kind);
    const soon = early(view, task, at, now, left.length ? step.dataset.cover : "");
    const minutes = kind === "done" && !String(data.took ?? "").trim() ? howLong(view, task, at) : "";
    const said = [left.length ? items(step, left) : "", soon?.asked ?? "", minutes].filter(Boolean);
    return { said, left, noted: soon?.noted ?? "", early: Boolean(soon), minutes: Boolean(minutes) };
  };

  // The entry that a form makes, with what is ticked for it; null where something is asked first.
  const before = (step, view, data, at, now) => {
    const asked = questions(step, view, data, at - Number(data.ago || 0) * 6e4, now);
    if (asked.said.length && !data.answer) { show(step, data, asked); return null; }
    slot(step, "ask").hidden = true;
    return { kind: data.kind, ago: data.ago, took: data.took, early: asked.noted, sure: Boolean(data.answer), ticks: data.answer === "tick" ? asked.left : [] };
  };

  return { early, howLong, before };
})();

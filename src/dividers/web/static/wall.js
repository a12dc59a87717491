/* At the wall: the page holds the job, sends what is recorded at once, or later in order, and counts to what is due. */
"use strict";
(() => {
  const wall = document.getElementById("wall");
  if (!wall) return;
  const { OPEN, apply, timersOf } = globalThis.DividersWall;
  const { before } = globalThis.DividersAsk;
  const { said, left, upper } = globalThis.DividersWords;
  const { held: heldAt, state: stateAt, events: eventsAt, replan: replanAt, worker } = wall.dataset;
  const painter = Number(wall.dataset.painter);
  const find = (selector, within = document) => within.querySelector(selector);
  const all = (selector, within = document) => [...within.querySelectorAll(selector)];
  const token = () => find('input[name="csrf_token"]').value;
  const stored = (name, usual) => { try { return JSON.parse(localStorage.getItem(name)) ?? usual; } catch { return usual; } };
  const store = (name, value) => { try { localStorage.setItem(name, JSON.stringify(value)); } catch { /* full or forbidden: memory holds it */ } };

  let state = JSON.parse(find("#state-data").textContent);
  const kept = stored(`dividers-state-${state.run}`, null);
  if (kept && kept.run === state.run && kept.events > state.events) state = kept;
  const queueName = `dividers-queue-${state.run}`;
  let queue = stored(queueName, []);
  let held = null;
  let current = find(".step")?.dataset.task ?? "";
  let online = true;
  let fault = ""; // what the server answered instead of taking what was sent

  // The clock is the server's: the quickest of the last answers shows best how far off this one is. An answer during which this clock was set,
  // or the phone slept, shows nothing; one that can't be true beside those before it shows that a clock was set since.
  const LEAP_MS = 1000;
  let offset = state.now - Date.now();
  let samples = [];
  const asking = () => ({ tick: performance.now(), at: Date.now() });
  const learn = (serverNow, sent) => {
    const took = performance.now() - sent.tick;
    if (Math.abs(Date.now() - sent.at - took) > LEAP_MS) return;
    const fresh = { took, offset: serverNow + took / 2 - Date.now() };
    const agree = samples.every((one) => Math.abs(one.offset - fresh.offset) < (one.took + took) / 2 + LEAP_MS);
    samples = agree ? [...samples.slice(-7), fresh] : [fresh];
    offset = samples.reduce((best, one) => (one.took < best.took ? one : best)).offset;
  };
  const now = () => Date.now() + offset;

  // What the queue adds to what the server knows.
  const seen = () => {
    if (!queue.length) return state;
    const view = structuredClone(state);
    for (const event of queue) apply(view, event);
    if (held) view.timers = timersOf(view, held.lags, now(), name);
    return view;
  };
  const name = (key) => find(`[data-step="${CSS.escape(key)}"] a span:last-child`)?.textContent ?? key;

  // Recording: into the queue first, then out of it in order; an entry sent twice counts once, by its uid.
  const uid = () => [...crypto.getRandomValues(new Uint8Array(12))].map((byte) => byte.toString(16).padStart(2, "0")).join("");
  const put = (kind, task, body = {}, ago = 0) => {
    queue.push({ kind, task, painter, uid: uid(), at: new Date(now() - ago * 6e4).toISOString(), body });
    store(queueName, queue);
  };
  let aside = ""; // what was said of the latest entries: it stands until the next ones
  let sending = false, again = 0, taken = 0; // answers to entries: what was asked before the last of them knows less than it
  const send = async () => {
    if (sending || !queue.length) return;
    sending = true;
    fault = "";
    line();
    const batch = queue.slice(0, 200);
    const sent = asking();
    try {
      const answer = await fetch(eventsAt, { method: "POST", headers: { "Content-Type": "application/json", "X-CSRFToken": token() }, body: JSON.stringify(batch) });
      if (answer.status === 421) throw new Error("not this computer's address any more");
      online = true;
      fault = answer.status >= 500 ? `Not saved: the server answered ${answer.status}` : "";
      if (fault) throw new Error(fault);
      again = 0;
      if (answer.ok) {
        const fresh = await answer.json();
        learn(fresh.now, sent);
        const settled = new Set(fresh.settled);
        queue = queue.filter((event) => !settled.has(event.uid));
        store(queueName, queue);
        taken += 1;
        take(fresh);
        const trouble = batch.map((event) => fresh.faults[event.uid] || fresh.refused[event.uid] || fresh.noted?.[event.uid]).filter(Boolean);
        aside = trouble.join(" ");
        if (aside) dress();
      } else {
        say("This page can't save entries any more: reload it. Your entries are kept.");
        again = 30000;
      }
    } catch {
      online = Boolean(fault);
      again = Math.min((again || 1000) * 2, 30000);
    }
    sending = false;
    line();
    if (queue.length) setTimeout(send, again);
  };
  const take = (fresh) => {
    const other = fresh.document !== state.document, air = fresh.air !== state.air;
    state = fresh;
    if (air && held) hold(); // waits last otherwise from now on
    store(`dividers-state-${state.run}`, state);
    if (other) return location.reload();
    dress();
  };
  // The plan is behind: have it made again, at most once a minute.
  let caughtUp = -Infinity;
  const catchUp = async () => {
    if (performance.now() - caughtUp < 60000) return;
    caughtUp = performance.now();
    const asked = taken;
    const answer = await fetch(replanAt, { method: "POST", headers: { Accept: "application/json", "X-CSRFToken": token() } });
    const fresh = answer.ok && await answer.json();
    if (fresh && !queue.length && asked === taken) take(fresh);
  };
  const poll = async () => {
    const sent = asking(), asked = taken;
    try {
      const answer = await fetch(`${stateAt}?have=${state.run}.${state.events}.${state.plan}`, { headers: { Accept: "application/json" } });
      if (!answer.ok) throw new Error("not now");
      const fresh = await answer.json();
      online = true;
      if (fresh.now) learn(fresh.now, sent);
      if (fresh.ended && !fresh.run) {
        if (queue.length) { online = true; await send(); }
        if (!queue.length) return location.reload();
      }
      if (!fresh.same && !queue.length && asked === taken) take(fresh);
      if (fresh.behind && !queue.length) await catchUp();
    } catch { online = false; }
    line();
    send();
  };
  const line = () => {
    const place = find("#line");
    const many = queue.length;
    const words = fault || "No connection";
    place.textContent = fault || !online ? (many ? `${words}: ${many} kept here, trying again` : `${words}: go on`) : sending || many ? "Sending…" : "Saved";
    place.className = `line ${fault || !online ? "off" : many ? "busy-line" : ""}`;
    document.dispatchEvent(new CustomEvent("dividers:line", { detail: { online } }));
  };
  const say = (words) => {
    const place = find("#said");
    place.hidden = !words;
    place.firstElementChild.textContent = words;
  };

  // Forms record by the queue.
  document.addEventListener("submit", (event) => {
    const form = event.target.closest("form[data-record]");
    if (!form) return;
    event.preventDefault();
    const data = Object.fromEntries(new FormData(form, event.submitter));
    if (twice(data) || (wall.dataset.resting === "recorded" && ["toggle", "touch"].includes(data.kind))) return undefined;
    if (data.all) {
      const made = seen().ticks[data.task] || [];
      const [first, last] = data.all.split(".."), every = all("[data-item]", find(".step"));
      const at = (item) => every.findIndex((row) => row.dataset.item === item);
      const wanted = (row, turn) => (last ? turn >= at(first) && turn <= at(last) : data.all === "all" || row.dataset.group === data.all);
      const rows = every.filter((row, turn) => wanted(row, turn) && !made.includes(row.dataset.item));
      for (const row of rows) put("tick", data.task, { item: row.dataset.item });
      dress();
      return send();
    }
    if (data.kind === "toggle") data.kind = (seen().ticks[data.task] || []).includes(data.item) ? "untick" : "tick";
    const step = form.closest("#step, #bar-act") ? find(".step") : null;
    if (data.kind === "sensor") Object.assign(data, { kind: "air", temperature: event.submitter.dataset.temperature, humidity: event.submitter.dataset.humidity });
    if (data.ago && !/^\d{1,4}$/.test(data.ago.trim())) return say("How many minutes ago? Type a whole number.");
    if (data.took && !(parse(data.took) >= 0)) return say("How many minutes did it take? Type a number, or leave it empty.");
    if (MOVING.includes(data.kind) && !data.reason && step && resting()) return undefined; // pressed for the step before; a typed reason is meant
    const view = seen();
    const entry = step ? before(step, view, data, now(), now()) : { ...data, early: "", ticks: [] };
    if (!entry) return rest("asked"); // a second press of what was asked about is no answer
    const { kind, early } = entry;
    const { task } = data;
    if (kind === "air" && !(/^\s*-?\d+([.,]\d+)?\s*°?\s*[cf]?\s*$/i.test(data.temperature) && Number.isFinite(parse(data.humidity)))) return say("Type the air like 70 F or 21 C, and 55.");
    for (const item of entry.ticks) put("tick", step.dataset.cover, { item });
    if (entry.ticks.length && step.dataset.cover !== task && !["done", "skipped"].includes(view.tasks[step.dataset.cover]?.state)) put("done", step.dataset.cover, { sure: true });
    const body = {};
    for (const part of ["reason", "item", "result", "temperature", "humidity", "of", "minutes", "took"]) if (data[part]) body[part] = data[part];
    if (early) body.early = early;
    if (entry.sure || data.ago) body.sure = true;
    const undone = kind === "undo" ? Object.keys(view.tasks).find((key) => view.tasks[key].last === data.of) : "";
    put(kind, task, body, Number(entry.ago || 0));
    if (step) for (const part of all(".skip-it", step)) part.removeAttribute("open");
    if (kind === "air") form.reset();
    if (navigator.vibrate) navigator.vibrate(15);
    if (["done", "skip"].includes(kind)) go(next(), false);
    if (MOVING.includes(kind)) rest(kind === "start" ? "begun" : "recorded");
    if (undone && undone !== current) go(undone, false);
    dress();
    send();
  });
  // After a step is begun or done, what stands in the place of its button takes nothing until the finger was up and it has been in sight for a
  // moment: a second press is one of the button before. The server asks about what comes sooner, too.
  const MOVING = ["start", "done", "skip"], REST_MS = 1500;
  // The same press again within a second is the same press: of Undo, which would take back one more, or of a tick, in whose place the next one
  // stands by then.
  const AGAIN_MS = 1000, lately = new Set();
  const twice = (data) => {
    if (MOVING.includes(data.kind)) return false; // these rest, and ask
    const list = data.kind === "toggle" && !data.all && find(".tick-list");
    const press = list ? "tick" : ["kind", "task", "item", "all", "result", "temperature", "humidity", "minutes"].map((part) => data[part] ?? "").join("\n");
    if (lately.has(press)) return true;
    lately.add(press);
    if (list) list.dataset.resting = "yes";
    setTimeout(() => { lately.delete(press); if (list) delete list.dataset.resting; }, AGAIN_MS);
    return false;
  };
  let rested = 0, fingerUp = true;
  const resting = () => wall.hasAttribute("data-resting");
  const rest = (why) => {
    wall.dataset.resting = why;
    clearTimeout(rested);
    rested = setTimeout(wake, REST_MS);
  };
  const wake = () => { if (fingerUp) delete wall.dataset.resting; else rested = setTimeout(wake, 100); };
  for (const kind of ["pointerdown", "keydown"]) addEventListener(kind, () => { fingerUp = false; }, true);
  for (const kind of ["pointerup", "pointercancel", "keyup", "blur"]) addEventListener(kind, () => { fingerUp = true; }, true);
  const parse = (text) => Number(String(text).trim().replace(",", ".").replace(/[^0-9.+-]/g, ""));
  document.addEventListener("click", (event) => {
    const box = event.target.closest("[data-close]")?.closest(".keep-check");
    if (box) { event.preventDefault(); box.hidden = true; return; }
    const link = event.target.closest("[data-go]");
    if (!link || !held || !held.steps[link.dataset.go]) return;
    event.preventDefault();
    go(link.dataset.go);
  });

  // Steps.
  const next = () => {
    const view = seen();
    const left = view.order.filter((key) => !["done", "skipped"].includes(view.tasks[key].state));
    const mine = left.filter((key) => view.tasks[key].painter === painter);
    const running = mine.find((key) => view.tasks[key].state === "running");
    const planned = mine.find((key) => view.tasks[key].state !== "running") || left[0];
    // A step whose window closes within the hour comes first, but where the plan keeps its window with the other step done before.
    const kept = (key) => {
      const task = view.tasks[key], other = view.tasks[planned];
      const free = now() + (planned === key ? 0 : other.minutes * 6e4);
      return other.planned !== null && task.planned !== null && other.planned <= task.planned && Math.max(task.planned, free) + task.minutes * 6e4 <= task.by;
    };
    const soon = left.filter((key) => view.tasks[key].by && !view.tasks[key].first && view.tasks[key].by - now() < 36e5 && view.tasks[key].state !== "running" && !kept(key));
    const closing = soon.sort((a, b) => view.tasks[a].by - view.tasks[b].by)[0];
    return running || closing || planned || current;
  };
  const go = (key, focus = true) => {
    if (!held || !held.steps[key]) { location.search = `?task=${encodeURIComponent(key)}&painter=${painter}`; return; }
    current = key;
    const place = find("#step");
    place.innerHTML = held.steps[key];
    find("#bar-act").replaceChildren();
    history.replaceState(null, "", `?task=${encodeURIComponent(key)}${painter > 1 ? `&painter=${painter}` : ""}`);
    dress();
    window.scrollTo(0, 0);
    if (focus) find("#step-title")?.focus({ preventScroll: true });
  };
  const slot = (step, which) => find(`[data-slot="${which}"]`, step);
  const write = (place, words) => { if (place && place.textContent !== words) place.textContent = words; };

  const dress = () => {
    const view = seen();
    const step = find(".step");
    const done = view.order.filter((key) => ["done", "skipped"].includes(view.tasks[key].state)).length;
    write(find('[data-slot="all-done"]'), String(done));
    find("#all-done").hidden = done < view.order.length;
    for (const row of all("[data-step]")) row.className = `step-row is-${view.tasks[row.dataset.step]?.state ?? "open"}`;
    if (!queue.length || view.said || aside) say([aside, view.said].filter(Boolean).join(" "));
    find("#behind").hidden = !state.behind;
    find("#here").hidden = view.in_hours || view.ended;
    write(find('[data-slot="here-said"]'), view.here_until > now() ? `Working outside the stated hours until ${said(view.here_until, now())}.` : "It is outside the stated hours. I'm here now, for");
    write(find("#air-said"), `Calculated for ${view.air}.`);
    clocks(view);
    takeBack(view);
    if (!step) return;
    const task = view.tasks[current];
    const at = view.order.indexOf(current);
    step.className = `step is-${task.state}`;
    write(slot(step, "place"), `Step ${task.number ?? at + 1} of ${view.order.length}`);
    write(slot(step, "state"), task.state === "open" ? "" : task.state);
    const because = task.because && !task.first && !(task.ready > now()) ? `: ${task.because}` : "";
    const waits = because.startsWith(": then ") && task.state === "open" && task.planned > now() ? "Wait until" : "planned";
    write(slot(step, "when"), task.ended ? "" : task.planned ? `${waits} ${said(task.planned, now())}${because}` : "");
    const missed = view.missed[current];
    slot(step, "missed").hidden = !missed;
    write(slot(step, "missed"), missed || "");
    const wait = slot(step, "wait");
    const waiting = OPEN.includes(task.state) && (task.first || (task.ready && task.ready > now()));
    wait.hidden = !waiting;
    const held = [task.first ? `First: ${task.first}.` : "", task.ready > now() ? `${upper(task.why)}: from ${said(task.ready, now())}.` : ""];
    if (waiting) write(wait, held.filter(Boolean).join(" "));
    const dryer = slot(step, "dryer"), sooner = slot(step, "sooner");
    if (dryer) dryer.hidden = !(task.ready > now()) || Boolean(task.first);
    if (sooner && !find("[name=csrf_token]", sooner)) find("form", sooner).append(find('input[name="csrf_token"]').cloneNode()); // a held step has none
    if (sooner && !sooner.open) sooner.hidden = !(task.ready > now());
    slot(step, "until").hidden = !task.by || Boolean(task.ended);
    if (task.by) write(slot(step, "until"), `${task.by < now() ? "It should have been done by" : "Be done by"} ${said(task.by, now())}.`);
    ticksOf(step, view);
    const bar = find("#bar-act");
    const acts = slot(step, "acts") ?? slot(bar, "acts");
    if (acts.parentElement !== bar) bar.replaceChildren(acts);
    find(".act-start", acts).hidden = !OPEN.includes(task.state);
    find(".act-done", acts).hidden = ["done", "skipped"].includes(task.state);
    for (const part of ["earlier", "skip"]) slot(step, part).hidden = ["done", "skipped"].includes(task.state);
    const over = slot(acts, "over");
    over.hidden = !["done", "skipped"].includes(task.state);
    if (task.ended) write(over, `${upper(task.state)} ${said(task.ended, now())}${task.reason ? `: ${task.reason}` : ""}`);
    for (const [way, by] of [["before", -1], ["after", 1]]) {
      const link = find(`[data-way="${way}"]`);
      const key = view.order[at + by];
      link.dataset.go = key ?? "";
      link.classList.toggle("none", !key);
    }
    draw(step, view);
  };
  const ticksOf = (step, view) => {
    const made = view.ticks[current] || [];
    const rows = all("[data-item]", step);
    if (!rows.length) return;
    let first = true;
    for (const row of rows) {
      const on = made.includes(row.dataset.item);
      find("button", row).setAttribute("aria-pressed", on ? "true" : "false");
      row.classList.toggle("current", !on && first);
      const picture = find("[data-tape]", row);
      if (!on && first && picture && !picture.firstElementChild && held) picture.innerHTML = held.tapes[picture.dataset.tape] || "";
      if (!on) first = false;
    }
    for (const part of all(".tick-part", step)) {
      const own = all("[data-item]", part);
      write(find('[data-slot="part"]', part), `${own.filter((row) => made.includes(row.dataset.item)).length} of ${own.length}`);
      const at = Boolean(find(".current", part));
      if (at !== (part.dataset.at === "yes")) { part.dataset.at = at ? "yes" : "no"; part.open = at; } // work has come to it, or gone on from it
    }
    write(slot(step, "count"), `${rows.filter((row) => made.includes(row.dataset.item)).length} of ${rows.length}`);
  };
  // What was recorded last stands on top, with its undo.
  const STATES = { running: "Begun", begun: "Begun", done: "Done", skipped: "Skipped" };
  const takeBack = (view) => {
    const place = find("#take-back");
    const last = Object.entries(view.tasks).filter(([, task]) => task.last && task.state !== "open").sort((a, b) => (b[1].ended ?? b[1].started) - (a[1].ended ?? a[1].started))[0];
    place.hidden = !last;
    if (!last) return;
    const [key, task] = last;
    find('[name="of"]', place).value = task.last;
    write(find(".undo-words", place), `${STATES[task.state]} ${said(task.ended ?? task.started, now())}: ${name(key)}`);
  };

  // The drawing: only what matters, close to it.
  const draw = (step, view) => {
    const figure = slot(step, "drawing");
    if (!figure.firstElementChild && held) figure.innerHTML = held.views[step.dataset.view] || "";
    const svg = find("svg", figure);
    if (!svg) return;
    const cells = new Set(step.dataset.cells ? step.dataset.cells.split(" ") : []);
    const row = find("[data-item].current", step);
    const keys = new Set(row ? row.dataset.keys.split(" ") : []);
    const made = new Set((view.ticks[current] || []).flatMap((item) => (find(`[data-item="${CSS.escape(item)}"]`, step)?.dataset.keys ?? "").split(" ")));
    svg.classList.toggle("some", cells.size > 0);
    for (const part of all("[data-link]", svg)) {
      const key = part.dataset.link;
      part.classList.toggle("aim", keys.has(key));
      part.classList.toggle("made", made.has(key));
      part.classList.toggle("now", cells.has(key));
    }
    zoom(svg, keys.size ? keys : cells);
  };
  const FEW = 3;
  const zoom = (svg, keys) => {
    const whole = (svg.dataset.whole ||= svg.getAttribute("viewBox")).split(" ").map(Number);
    let box = null;
    for (const part of all("[data-link]", svg)) {
      if (!keys.has(part.dataset.link) || (part.tagName === "text" && keys.size > FEW)) continue; // a mark's own reading stays in sight with it
      const own = part.getBBox();
      box = box ? [Math.min(box[0], own.x), Math.min(box[1], own.y), Math.max(box[2], own.x + own.width), Math.max(box[3], own.y + own.height)] : [own.x, own.y, own.x + own.width, own.y + own.height];
    }
    if (!box) { svg.setAttribute("viewBox", whole.join(" ")); return; }
    const least = Math.max(whole[2], whole[3]) * 0.34;
    const width = Math.min(Math.max((box[2] - box[0]) * 1.2, least), whole[2]);
    const height = Math.min(Math.max((box[3] - box[1]) * 1.2, least), whole[3]);
    const air = 0.02 * Math.max(width, height);
    const x = Math.min(Math.max((box[0] + box[2] - width) / 2, Math.min(whole[0], box[0] - air)), Math.max(whole[0] + whole[2], box[2] + air) - width);
    const y = Math.min(Math.max((box[1] + box[3] - height) / 2, Math.min(whole[1], box[1] - air)), Math.max(whole[1] + whole[3], box[3] + air) - height);
    svg.setAttribute("viewBox", [x, y, width, height].map((n) => n.toFixed(1)).join(" "));
  };

  // Clocks: a row each; what is due is heard, felt and shown in the title.
  const clocks = (view) => {
    const list = find("#timers");
    const wanted = view.timers.slice(0, 12);
    list.replaceChildren(...wanted.map((timer) => {
      const item = document.createElement("li");
      item.className = `timer ${timer.kind}`;
      const link = Object.assign(document.createElement("a"), { href: `?task=${encodeURIComponent(timer.task)}` });
      link.dataset.go = timer.task;
      const time = Object.assign(document.createElement("span"), { className: "timer-left" });
      Object.assign(time.dataset, { due: timer.at, kind: timer.kind });
      const words = Object.assign(document.createElement("span"), { className: "timer-words", textContent: timer.words });
      words.append(Object.assign(document.createElement("small"), { textContent: timer.why }));
      link.append(time, words);
      item.append(link);
      return item;
    }));
    const due = find("#due");
    const first = wanted[0];
    due.hidden = !first;
    if (first) {
      due.className = `due ${first.kind}`;
      const link = Object.assign(document.createElement("a"), { href: `?task=${encodeURIComponent(first.task)}` });
      link.dataset.go = first.task;
      const time = Object.assign(document.createElement("span"), { className: "due-left" });
      Object.assign(time.dataset, { due: first.at, kind: first.kind });
      link.append(time, Object.assign(document.createElement("span"), { className: "due-words", textContent: first.words }));
      due.replaceChildren(link);
    }
    tick();
  };
  let heard = new Set();
  const tick = () => {
    const view = seen();
    for (const place of all("[data-due]")) write(place, left(Number(place.dataset.due) - now()));
    const first = view.timers[0];
    document.title = first ? `${left(first.at - now())} ${first.words} - At the wall` : `At the wall`;
    for (const timer of view.timers) {
      const away = timer.at - now();
      const soon = timer.kind === "closes" && away < 120000 && away > 0;
      const name = `${timer.task} ${timer.kind} ${soon ? "soon" : "due"} ${Math.round(timer.at / 60000)}`;
      if ((soon || (away <= 0 && away > -90000)) && timer.kind !== "planned" && !heard.has(name)) {
        heard.add(name);
        alarm(timer.kind === "closes" || timer.kind === "overdue");
        document.dispatchEvent(new CustomEvent("dividers:alarm", { detail: `${timer.words}. ${soon ? left(away) : "Now"}.` }));
      }
    }
    if (view.timers.some((timer) => timer.kind === "closes" && timer.at < now())) poll();
  };
  const { ring, open, awake } = globalThis.DividersAlarm;
  const alarm = (urgent) => ring(urgent, find("#sound").getAttribute("aria-pressed") === "true");
  const sound = find("#sound");
  sound.hidden = !window.AudioContext;
  sound.addEventListener("click", () => {
    const on = sound.getAttribute("aria-pressed") !== "true";
    sound.setAttribute("aria-pressed", on ? "true" : "false");
    if (on) { open(); alarm(false); }
  });

  const stayAwake = async () => write(find("#awake"), await awake());
  document.addEventListener("visibilitychange", () => { if (document.visibilityState === "visible") { stayAwake(); poll(); } });
  window.addEventListener("online", poll);
  window.addEventListener("offline", () => { online = false; line(); });

  if (navigator.serviceWorker && worker) navigator.serviceWorker.register(worker).catch(() => {});
  const hold = async () => {
    try {
      const answer = await fetch(heldAt);
      if (!answer.ok) throw new Error("not now");
      held = await answer.json();
      const asked = new URLSearchParams(location.search).get("task");
      if (asked && asked !== current && held.steps[asked]) go(asked, false);
      else dress();
      wall.dataset.ready = "yes";
    } catch { online = false; line(); setTimeout(hold, 5000); }
  };
  dress();
  hold();
  stayAwake();
  send();
  setInterval(tick, 1000);
  setInterval(poll, 5000);
})();

/* What entries mean for the tasks at the wall, worked out on the phone while there is no connection: plain functions of data. */
"use strict";
globalThis.DividersWall = (() => {
  const OPEN = ["open", "begun"];

  // Add one entry of the queue to a view of the server's state, in place.
  const apply = (view, event) => {
    const task = view.tasks[event.task];
    const at = Date.parse(event.at);
    const ticks = (view.ticks[event.task] ||= []);
    if (event.kind === "tick" && !ticks.includes(event.body.item)) ticks.push(event.body.item);
    if (event.kind === "untick") view.ticks[event.task] = ticks.filter((item) => item !== event.body.item);
    if (event.kind === "undo") {
      const undone = Object.values(view.tasks).find((each) => each.last === event.body.of);
      if (undone) Object.assign(undone, undone.state === "done" && undone.started ? { state: "running", ended: null } : { state: "open", started: null, ended: null });
    }
    if (event.kind === "here") view.here_until = Math.max(view.here_until ?? 0, at + event.body.minutes * 6e4);
    if (!task) return;
    const early = event.body.early ? { reason: `gone on early: ${event.body.early}` } : {};
    if (event.kind === "start" && OPEN.includes(task.state)) {
      for (const other of Object.values(view.tasks)) if (other.state === "running" && other.painter === event.painter) other.state = "begun";
      Object.assign(task, { state: "running", started: task.started ?? at, painter: event.painter, last: event.uid, ...early });
    }
    if (event.kind === "done" && !["done", "skipped"].includes(task.state)) Object.assign(task, { state: "done", started: task.started ?? at, ended: at, painter: event.painter, last: event.uid, ...early });
    if (event.kind === "skip" && !["done", "skipped"].includes(task.state)) Object.assign(task, { state: "skipped", ended: at, painter: event.painter, reason: event.body.reason, last: event.uid });
  };

  // The waits without the tasks that were skipped: what followed one follows what came before it, a coat less keeps the waits
  // of the coat before.
  const around = (view, lags) => {
    for (const [key, task] of Object.entries(view.tasks)) {
      if (task.state !== "skipped") continue;
      const into = lags.filter((lag) => lag[1] === key), out = lags.filter((lag) => lag[0] === key);
      lags = lags.filter((lag) => lag[0] !== key && lag[1] !== key);
      for (const [first, , , , of, to] of into) {
        for (const [, then, ...rest] of out) {
          if (of === "start" && to === "start" || rest[2] === "start" && rest[3] === "start") continue; // which batch goes first holds nobody up
          if (view.tasks[first].series === task.series) lags.push([first, then, ...rest]);
          else if (rest[1] === null) lags.push([first, then, 0, null, "end", "start", "what comes before must be done"]);
        }
      }
    }
    return lags;
  };

  // How long a wait lasts from a moment on, in ms: so many minutes, or in every air from when on: [from, minutes] each; each air carries its share.
  const lasting = (amount, since) => {
    if (!Array.isArray(amount)) return amount * 6e4;
    let left = 1, at = since;
    for (const [turn, [, minutes]] of amount.entries()) {
      const until = amount[turn + 1]?.[0];
      if (until !== undefined && until <= at) continue;
      if (minutes <= 0) return at - since;
      if (until === undefined || at + left * minutes * 6e4 <= until) return at + left * minutes * 6e4 - since;
      left -= (until - at) / (minutes * 6e4);
      at = until;
    }
    return at - since;
  };

  // What the tasks of a view wait for and what falls due, from the waits between them: [first, then, least, most, of, to, why].
  const timersOf = (view, lags, now, name) => {
    const into = {};
    for (const lag of around(view, lags)) (into[lag[1]] ||= []).push(lag);
    const found = [];
    for (const [key, task] of Object.entries(view.tasks)) {
      if (["done", "skipped"].includes(task.state)) continue;
      let ready = task.from ?? 0, why = task.from_why ?? "", by = Infinity, byWhy = "";
      const blocked = [];
      for (const [first, , least, most, of, , said] of into[key] || []) {
        const before = view.tasks[first];
        const anchor = of === "end" ? before.ended : before.started;
        if (of === "end" && !["done", "skipped"].includes(before.state)) { if (!blocked.includes(first)) blocked.push(first); continue; }
        if (!anchor || before.state === "skipped") continue;
        const [from, until] = [anchor + lasting(least, anchor), most === null ? Infinity : anchor + lasting(most, anchor)];
        if (from > ready) { ready = from; why = said; }
        if (until < by) { by = until; byWhy = said; }
      }
      const more = blocked.length > 1 ? ` and ${blocked.length - 1} more` : "";
      Object.assign(task, { ready: ready && why ? ready : null, why, by: Number.isFinite(by) ? by : null, firsts: blocked, first: blocked.length ? name(blocked[0]) + more : "" });
      if (!blocked.length && why && ready > now && task.state !== "running") found.push({ kind: task.kind === "pull" ? "opens" : "dry", task: key, at: ready, words: `${task.kind === "pull" ? "Window opens" : "Dry for"}: ${name(key)}`, why });
      if (by - now < 864e5) found.push({ kind: by < now ? "overdue" : "closes", task: key, at: by, words: `${by < now ? "Window over" : "Window closes"}: ${name(key)}`, why: byWhy });
    }
    const late = (timer) => (timer.kind === "overdue" ? 0 : 1);
    return found.sort((a, b) => late(a) - late(b) || a.at - b.at);
  };

  return { OPEN, apply, timersOf };
})();

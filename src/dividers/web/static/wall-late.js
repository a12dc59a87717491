/* Entries that were made without a connection, for a run that was closed or left meanwhile: delivered to the run they belong to, and said. */
"use strict";
(async () => {
  const place = document.querySelector("[data-late]");
  const PREFIX = "dividers-queue-";
  if (!place) return;
  const token = document.querySelector('input[name="csrf_token"]')?.value ?? "";
  const names = Object.keys(localStorage).filter((name) => name.startsWith(PREFIX) && name.slice(PREFIX.length) !== place.dataset.run);
  const said = [];
  for (const name of names) {
    let queue = [];
    try { queue = JSON.parse(localStorage.getItem(name)) ?? []; } catch { /* what can't be read can't be sent */ }
    if (!queue.length) { localStorage.removeItem(name); continue; }
    let answer;
    try {
      answer = await fetch(`${place.dataset.late}?run=${name.slice(PREFIX.length)}`, { method: "POST", headers: { "Content-Type": "application/json", "X-CSRFToken": token }, body: JSON.stringify(queue.slice(0, 500)) });
    } catch { continue; } // still no connection: the next visit tries again
    if (!answer.ok) continue; // of another job, or not now
    const fresh = await answer.json();
    const settled = new Set(fresh.settled);
    const left = queue.filter((event) => !settled.has(event.uid));
    if (left.length) localStorage.setItem(name, JSON.stringify(left));
    else localStorage.removeItem(name);
    const refused = queue.map((event) => fresh.faults[event.uid] || fresh.refused[event.uid]).filter(Boolean);
    said.push(`${queue.length - left.length} ${queue.length - left.length === 1 ? "entry" : "entries"} made without a connection ${queue.length - left.length === 1 ? "is" : "are"} in the record now, in the run that was closed meanwhile.`, ...refused);
  }
  if (!said.length) return;
  place.textContent = said.join(" ");
  place.hidden = false;
})();

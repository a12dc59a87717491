/* The workshop's computer has another address: what is kept here goes along to where it is found again. Loaded before wall.js. */
"use strict";
(() => {
  const PREFIX = "dividers-queue-";
  const AFTER_MS = 45_000;
  const stored = (name) => { try { return JSON.parse(localStorage.getItem(name)) ?? []; } catch { return []; } };
  const queues = () => Object.fromEntries(Object.keys(localStorage).filter((name) => name.startsWith(PREFIX)).map((name) => [name.slice(PREFIX.length), stored(name)]).filter(([, queue]) => queue.length));
  const packed = () => {
    const kept = queues();
    return Object.keys(kept).length ? `#kept=${encodeURIComponent(JSON.stringify(kept))}` : "";
  };

  // Leaving: after a while without an answer, the other names are offered, and a field for a new address.
  const leave = (box, wall) => {
    const { names, joins, port } = wall.dataset;
    const at = (host) => `${location.protocol}//${host}${port ? `:${port}` : ""}${joins || location.pathname}${packed()}`;
    let since = null;
    document.addEventListener("dividers:line", ({ detail }) => {
      since = detail.online ? null : since ?? performance.now();
      if (detail.online) box.hidden = true;
      else if (performance.now() - since > AFTER_MS) box.hidden = false;
    });
    for (const name of (names || "").split(" ").filter((each) => each && each !== location.hostname)) {
      const link = Object.assign(document.createElement("a"), { className: "btn btn-secondary", href: "#", textContent: `Try ${name}` });
      link.addEventListener("click", (event) => { event.preventDefault(); location.href = at(name); });
      box.querySelector("[data-slot=names]").append(link);
    }
    box.querySelector("form").addEventListener("submit", (event) => {
      event.preventDefault();
      const typed = box.querySelector("input").value.trim().replace(/^[a-z]+:\/\//i, "").replace(/[:/].*$/, "");
      const wrong = !/^[a-z0-9][a-z0-9.-]*$/i.test(typed);
      box.querySelector(".fault").hidden = !wrong;
      if (!wrong) location.href = at(typed);
    });
  };
  const box = document.getElementById("moved");
  if (box) leave(box, document.getElementById("wall"));

  // Arriving: what came along is taken over when it is said so, for an address can be written by anybody.
  const came = new URLSearchParams(location.hash.slice(1)).get("kept");
  const taken = document.getElementById("came-along");
  if (!came || !taken) return;
  history.replaceState(null, "", location.pathname + location.search);
  let kept = {};
  try { kept = JSON.parse(came); } catch { return; }
  const runs = Object.entries(kept).filter(([run, queue]) => /^\d{1,9}$/.test(run) && Array.isArray(queue));
  const many = runs.reduce((sum, [, queue]) => sum + queue.length, 0);
  if (!many) return;
  taken.hidden = false;
  taken.querySelector("span").textContent = `${many} ${many === 1 ? "entry" : "entries"} kept at the old address came along.`;
  taken.querySelector("button").addEventListener("click", () => {
    for (const [run, queue] of runs) {
      const here = stored(PREFIX + run);
      const known = new Set(here.map((entry) => entry.uid));
      localStorage.setItem(PREFIX + run, JSON.stringify([...here, ...queue.filter((entry) => !known.has(entry.uid))]));
    }
    location.reload();
  });
})();

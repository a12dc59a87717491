/* What is sent, and what becomes of it: no button goes along that nobody pressed, a double press counts once, and what the server didn't
   take is said at its field, kept, and sent again. */
"use strict";
(() => {
  const LONGEST_MS = 30000, LONGEST_TURN_MS = 8000;
  const formOf = (element) => element?.closest?.("form");
  let leaving = 0; // how many forms hold what the server hasn't taken

  // The last field typed in, form by form: where a fault is shown.
  const typedIn = new WeakMap();
  document.addEventListener("input", (event) => { const form = formOf(event.target); if (form) typedIn.set(form, event.target); }, true);

  // A double press counts once: the second click of a double click, and any press of a button whose answer is still awaited.
  const awaited = new WeakMap();
  const none = (event) => { event.preventDefault(); event.stopImmediatePropagation(); };
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("button, [type=submit]");
    if (event.detail > 1 && button?.form && button.type === "submit" && !button.closest("[data-record], .ticks, [data-step-count]")) none(event);
  }, true);
  document.addEventListener("submit", (event) => {
    const { submitter, target } = event;
    if (!submitter?.name || target.closest("[data-record], .ticks")) return;
    const press = `${submitter.name}=${submitter.value}`;
    if (awaited.get(target) === press) none(event);
    else awaited.set(target, press);
  }, true);

  // What is said at a form about its last try.
  const failed = new Map();
  const saidAt = (form) => form.querySelector(":scope .unsaved");
  const say = (form, words) => {
    const place = saidAt(form) ?? Object.assign(document.createElement("p"), { className: "fault invalid-feedback d-block unsaved" });
    place.setAttribute("role", "alert");
    place.textContent = words;
    if (place.isConnected) return;
    const field = typedIn.get(form);
    const anchor = (field?.isConnected && field.form === form && (field.closest(".field, td, label") ?? field)) || form.querySelector("button:not(.visually-hidden), [type=submit]");
    if (anchor) anchor.after(place);
    else form.append(place);
  };
  const settled = (form) => {
    if (failed.has(form)) { failed.delete(form); leaving -= 1; }
    saidAt(form)?.remove();
  };
  const notTaken = (form, why, retry) => {
    const before = failed.get(form);
    if (!before) leaving += 1;
    clearTimeout(before?.timer);
    const wait = Math.min((before?.wait ?? 1000) * 2, LONGEST_MS);
    say(form, `Not saved: ${why}. What you typed is kept here; trying again in ${wait / 1000} s.`);
    failed.set(form, { wait, timer: setTimeout(retry, wait) });
  };
  const whyOf = (status) => (status ? `the server answered ${status}` : "there is no connection to Dividers");
  window.addEventListener("beforeunload", (event) => { if (leaving > 0) event.preventDefault(); });

  // Forms that htmx sends: with a button only where that was pressed, also when its turn comes late or another change went before it.
  const pressed = new WeakMap(), carried = new WeakMap();
  document.addEventListener("submit", (event) => {
    if (event.submitter?.name) pressed.set(event.target, { name: event.submitter.name, value: event.submitter.value });
  }, true);
  document.addEventListener("htmx:configRequest", (event) => {
    const { elt, parameters, verb } = event.detail;
    const form = formOf(elt);
    if (!form || verb === "get") return;
    for (const button of form.querySelectorAll("button[name], input[type=submit][name]")) delete parameters[button.name];
    const button = pressed.get(form);
    pressed.delete(form);
    carried.set(form, button);
    if (button) parameters[button.name] = button.value;
  });
  document.addEventListener("htmx:afterRequest", (event) => {
    const { elt, xhr, successful, requestConfig } = event.detail;
    const form = formOf(elt);
    if (!form || requestConfig.verb === "get") return;
    if (carried.get(form)) awaited.delete(form);
    if (successful || (xhr.status >= 400 && xhr.status < 500)) {
      settled(form);
      if (!successful) say(form, `Not saved: the server answered ${xhr.status}. Reload the page; what you typed is still here.`);
      return;
    }
    if (carried.get(form) && !pressed.has(form)) pressed.set(form, carried.get(form));
    notTaken(form, whyOf(xhr.status), () => { if (form.isConnected) htmx.trigger(form, "submit"); });
  });

  // Whether the server has all that was typed in forms that save by themselves: data-saved on the page, for whoever waits for it.
  const root = document.documentElement;
  const changed = new WeakMap(), taken = new WeakMap(), open = new Set();
  const saves = (form) => form?.hasAttribute("hx-post");
  const showSaved = () => { root.dataset.saved = [...open].some((form) => form.isConnected && !(taken.get(form) >= changed.get(form))) ? "no" : "yes"; };
  const note = (form) => { changed.set(form, performance.now()); open.add(form); showSaved(); };
  for (const kind of ["input", "change"]) document.addEventListener(kind, ({ target }) => { if (target.name && saves(formOf(target))) note(formOf(target)); }, true);
  document.addEventListener("submit", ({ target }) => { if (saves(target)) note(target); }, true);
  const begun = new WeakMap();
  document.addEventListener("htmx:beforeRequest", ({ detail: { elt, xhr } }) => { if (saves(formOf(elt))) begun.set(xhr, performance.now()); });
  document.addEventListener("htmx:afterSettle", ({ detail: { elt, xhr, requestConfig } }) => {
    for (const form of new Set([formOf(requestConfig.elt), formOf(elt)])) if (form && begun.has(xhr)) taken.set(form, begun.get(xhr));
    for (const form of [...open]) if (!form.isConnected) open.delete(form);
    showSaved();
  });
  root.dataset.saved = "yes";

  // Where a form's buttons are answers, Enter in a field goes on to the next field, and at last to the answers: one of them is pressed.
  document.addEventListener("keydown", (event) => {
    const form = event.key === "Enter" && !event.isComposing && event.target.matches?.("input:not([type=file])") && event.target.closest("form[data-answers]");
    if (!form) return;
    event.preventDefault();
    const seen = [...form.elements].filter((each) => each.offsetParent !== null && !each.matches("[type=hidden], .visually-hidden, [type=file], [tabindex='-1']"));
    seen[seen.indexOf(event.target) + 1]?.focus();
  }, true);

  // Other forms: sent by script, so that what was typed stays where the answer fails to come. Sent again under one name, they count once.
  const name = () => [...crypto.getRandomValues(new Uint8Array(12))].map((byte) => byte.toString(16).padStart(2, "0")).join("");
  const sent = new WeakMap(), sending = new Set();
  const send = async (form, body, once) => {
    let answer;
    sending.add(form);
    try {
      answer = await fetch(form.getAttribute("action") || location.href, { method: "POST", body, headers: { "X-Once": once } });
    } catch { answer = { status: 0 }; }
    sending.delete(form);
    if (answer.status && answer.status < 400) await sendHeld(answer.headers.get("X-Go-To"));
    if (!answer.status || answer.status >= 500) return notTaken(form, whyOf(answer.status), () => { if (form.isConnected) send(form, body, once); });
    settled(form);
    awaited.delete(form);
    const to = answer.headers.get("X-Go-To");
    if (to) return go(to);
    const page = await answer.text();
    document.open();
    document.write(page);
    return document.close();
  };
  const go = (to) => {
    const address = new URL(to, location.href);
    const same = address.pathname === location.pathname && address.search === location.search;
    if (!same) return location.assign(address);
    history.replaceState(null, "", address);
    return location.reload();
  };

  // One page, one turn after another: what is typed while another form of the page is on its way goes after it, on what that made of the job, with the
  // fields that were typed in and no others; a form that is pressed while fields are being saved goes after those.
  const held = new Map(); // forms that wait, with the names that were typed in
  for (const kind of ["input", "change"]) {
    document.addEventListener(kind, ({ target }) => {
      const form = formOf(target);
      if (!sending.size || !target.name || !saves(form)) return;
      if (!held.has(form)) held.set(form, new Set());
      held.get(form).add(target.name.split(":")[0]);
    }, true);
  }
  const flying = new Map(), queued = new Set(); // requests on their way, by form; forms whose turn comes after those
  document.addEventListener("htmx:beforeRequest", (event) => {
    const form = formOf(event.detail.elt), { xhr } = event.detail;
    if (!saves(form) || !form.elements.revision) return;
    if (sending.size) return event.preventDefault();
    if ([...flying.keys()].every((other) => other === form || !other.isConnected)) return flying.set(form, xhr);
    event.preventDefault();
    queued.add(form);
    if (carried.get(form)) pressed.set(form, carried.get(form));
    return undefined;
  });
  const landed = ({ detail: { xhr } }) => {
    for (const [form, own] of flying) if (own === xhr) flying.delete(form);
    if (flying.size) return;
    for (const form of queued) {
      queued.delete(form);
      if (form.isConnected) return htmx.trigger(form, "submit"); // with the page's new revision, and what was typed meanwhile
    }
    return undefined;
  };
  document.addEventListener("htmx:afterSettle", landed);
  document.addEventListener("htmx:afterRequest", (event) => { if (!event.detail.successful) landed(event); });
  document.addEventListener("htmx:configRequest", ({ detail: { elt, parameters } }) => {
    const names = turns.get(formOf(elt));
    if (!names) return;
    const always = ["csrf_token", "once", "revision", "station", "layer"];
    for (const key of Object.keys(parameters)) if (!always.includes(key) && !names.has(key.split(":")[0])) delete parameters[key];
  });
  const turns = new Map(); // forms that are having their turn, with the names that they send
  const sendHeld = async (to) => {
    const waiting = [...held].filter(([form, names]) => form.isConnected && names.size && form.elements.revision);
    held.clear();
    for (const [form, names] of waiting) {
      try {
        const page = new DOMParser().parseFromString(await (await fetch(to || location.href)).text(), "text/html");
        form.elements.revision.value = page.querySelector("[name=revision]")?.value ?? form.elements.revision.value;
      } catch { /* no connection: the form says so itself, and is sent again */ }
      turns.set(form, names);
      await Promise.race([pause(LONGEST_TURN_MS), new Promise((done) => {
        const own = (event) => { if (formOf(event.detail.elt) === form) { document.removeEventListener("htmx:afterRequest", own); done(); } };
        document.addEventListener("htmx:afterRequest", own);
        htmx.trigger(form, "submit");
      })]);
      turns.delete(form);
    }
  };
  const pause = (ms) => new Promise((done) => { setTimeout(done, ms); });
  const waiting = new Set(); // forms that were pressed and wait for fields that are being saved: those still go out
  const saved = () => new Promise((done) => {
    if (root.dataset.saved === "yes") return done();
    const watch = new MutationObserver(() => { if (root.dataset.saved === "yes") { watch.disconnect(); done(); } });
    watch.observe(root, { attributes: true, attributeFilter: ["data-saved"] });
    return undefined;
  });

  document.addEventListener("submit", async (event) => {
    const form = event.target;
    if (event.defaultPrevented || form.getAttribute("method") !== "post" || form.hasAttribute("hx-post") || form.matches("[data-record], [data-plain]")) return;
    event.preventDefault();
    if (sending.has(form) || waiting.has(form)) return; // pressed twice, by Enter too
    if (form.elements.revision && root.dataset.saved === "no" && !failed.size) {
      waiting.add(form);
      await Promise.race([saved(), pause(LONGEST_TURN_MS)]);
      waiting.delete(form);
    }
    const body = new FormData(form, event.submitter);
    const text = JSON.stringify([...body].map(([key, value]) => [key, value.name ?? value]));
    const before = failed.has(form) ? sent.get(form) : null;
    const once = before?.text === text ? before.once : name(); // the same again: its first try may have been taken
    sent.set(form, { text, once });
    clearTimeout(failed.get(form)?.timer);
    send(form, body, once);
  });
})();

/* Draw with tape: strips are laid, points moved, regions coloured by pointing or by keys. What can be taken hold of comes from the server,
   which decides what is laid; here it is shown while the hand moves. */
"use strict";
(() => {
  const NS = "http://www.w3.org/2000/svg", NEAR_PX = 9, FINGER_PX = 16, TURNS = [0, 30, 45, 60, 90, 120, 135, 150], TURN_NEAR = 2.5;
  const tools = () => document.getElementById("draw");
  const frame = () => document.getElementById("drawing");
  const svg = () => frame()?.querySelector("svg.drawing");
  let touched = false; // by a finger, which covers more than a mouse's arrow
  let under = false; // the photo of the place, kept while the page is changed
  let data = null, mode = "look", from = null, cursor = null, held = null, pressedAt = null, byKeys = false;

  const read = () => {
    data = tools() ? JSON.parse(tools().dataset.draw) : null;
    if (!data) return;
    tools().querySelector("[data-draw-bar]").hidden = false;
    const photo = tools().querySelector("[data-photo-under]");
    if (photo) photo.checked = under;
    paint();
  };
  const element = (name, attributes, text) => {
    const made = document.createElementNS(NS, name);
    for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, value);
    if (text) made.textContent = text;
    return made;
  };
  const onSvg = (x, y) => [x - data.origin[0], y - data.origin[1]];
  const scale = () => svg().getScreenCTM().a; // pixels a millimetre
  const at = (event) => {
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg().getScreenCTM().inverse());
    return { x: point.x + data.origin[0], y: point.y + data.origin[1] };
  };

  // Taking hold: the nearest point, else the nearest strip or edge at a whole graduation, else the nearest graduation.
  const snapping = () => tools().querySelector("[data-snap]").checked;
  const dist = (ax, ay, bx, by) => Math.hypot(ax - bx, ay - by);
  // As fine as the hand can point: the smallest round step that is a pixel or more; by keys every graduation.
  const finest = () => (byKeys ? data.step : data.steps.find((step) => step * scale() >= 1) ?? data.steps.at(-1));
  const steps = (mm) => { const step = finest(); return Math.max(Math.round(mm / step) * step, 0); };
  const edges = () => {
    const [left, top, right, bottom] = data.area;
    return [["top", left, top, right, top], ["bottom", left, bottom, right, bottom], ["left", left, top, left, bottom], ["right", right, top, right, bottom]];
  };
  const lines = () => [...data.legs, ...data.guides];
  const isLaying = () => mode === "lay" || mode === "guide";
  const along = ({ x, y }, [ax, ay, bx, by]) => {
    const length = dist(ax, ay, bx, by) || 1, t = Math.min(Math.max(((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / length, 0), length);
    return { mm: t, length, gap: dist(x, y, ax + (bx - ax) * t / length, ay + (by - ay) * t / length) };
  };
  const put = (mm, [ax, ay, bx, by], length) => ({ x: ax + (bx - ax) * mm / length, y: ay + (by - ay) * mm / length });
  const inside = ({ x, y }) => ({ x: Math.min(Math.max(x, data.area[0]), data.area[2]), y: Math.min(Math.max(y, data.area[1]), data.area[3]) });
  const hold = (raw, without) => {
    const place = inside(raw), near = byKeys ? data.step * 0.6 : (touched ? FINGER_PX : NEAR_PX) / scale();
    if (!snapping()) return onRound(place, near, without);
    const gap = (spot) => dist(spot.x, spot.y, place.x, place.y);
    const nearest = (weak) => data.points.filter((point) => point.place !== without && point.weak === weak && gap(point) < near).sort((a, b) => gap(a) - gap(b))[0];
    const strong = nearest(false), weak = nearest(true);
    if (strong) return strong;
    const round = onTurnOrRound(place, near, without);
    return weak && gap(weak) < gap(round) ? weak : round; // a middle or a third, where no round reading is nearer
  };
  const onTurnOrRound = (place, near, without) => {
    const turn = from && !without && !byKeys && onTurn(place, near);
    if (turn) return turn;
    const round = onRound(place, near, without), gap = (a, b) => dist(a.x, a.y, b.x, b.y);
    const others = without || byKeys ? [] : [from && asLong(place, near), onImage(place, near)].filter((spot) => spot && gap(spot, place) < near / 2 && gap(spot, round) > data.step);
    return others.sort((a, b) => gap(a, place) - gap(b, place))[0] ?? round; // a plain reading at the same place says it better
  };
  // Another point's mirror image in the middle of the field; or as long as another strip, in a plain direction.
  const onImage = (place, near) => {
    const [left, top, right, bottom] = data.area, letters = data.points.filter((point) => typeof point.place === "string");
    const images = letters.flatMap(({ x, y, place: name }) => [["left to right", left + right - x, y], ["top to bottom", x, top + bottom - y]].map(([axis, px, py]) => ({ x: px, y: py, place: { mirror: name, in: axis }, why: `${name} mirrored` })));
    return images.filter((spot) => dist(spot.x, spot.y, place.x, place.y) < near).sort((a, b) => dist(a.x, a.y, place.x, place.y) - dist(b.x, b.y, place.x, place.y))[0];
  };
  const ways = () => {
    const turn = ([ax, ay, bx, by]) => Math.atan2(ay - by, bx - ax) * 180 / Math.PI;
    return [...TURNS.map((each) => ({ turn: each, say: each % 90 ? `${each}°` : each ? "vertical" : "horizontal", way: { turn: `${each}` } })),
      ...lines().flatMap(({ a, b, ends }) => [{ turn: turn(ends), say: `along ${a} ${b}`, way: { along: [a, b] } }, { turn: turn(ends) - 90, say: `square to ${a} ${b}`, way: { square: [a, b] } }])];
  };
  const turnNear = (place) => {
    const angle = Math.atan2(from.y - place.y, place.x - from.x) * 180 / Math.PI;
    const off = (turn) => { const gap = Math.abs(angle - turn) % 180; return Math.min(gap, 180 - gap); };
    return ways().filter((each) => off(each.turn) < TURN_NEAR).sort((a, b) => off(a.turn) - off(b.turn))[0];
  };
  const asLong = (place, near) => {
    const best = turnNear(place);
    if (!best) return null;
    const far = dist(place.x, place.y, from.x, from.y), same = data.legs.map((leg) => ({ ...leg, mm: dist(...leg.ends) })).filter((leg) => Math.abs(leg.mm - far) < near).sort((a, b) => Math.abs(a.mm - far) - Math.abs(b.mm - far))[0];
    if (!same || !same.length_text) return null;
    let dx = Math.cos(best.turn * Math.PI / 180), dy = -Math.sin(best.turn * Math.PI / 180), way = best.way;
    if (dx * (place.x - from.x) + dy * (place.y - from.y) < 0) { if (!way.turn) return null; [dx, dy] = [-dx, -dy]; way = { turn: `${Number(way.turn) + 180}` }; }
    const spot = { x: from.x + dx * same.mm, y: from.y + dy * same.mm };
    return dist(spot.x, spot.y, place.x, place.y) < 2 * near ? { ...spot, place: { length: same.length_text, from: "$start", ...way }, why: `${best.say}, as long as ${same.a} ${same.b}` } : null;
  };
  const onRound = (place, near, without) => {
    const edge = edges().map(([name, ...ends]) => ({ name, ends, ...along(place, ends) })).filter((each) => each.gap < near).sort((a, b) => a.gap - b.gap)[0];
    if (edge) { const mm = steps(edge.mm); return { ...put(mm, edge.ends, edge.length), place: { edge: edge.name, mm }, why: `${edge.name} edge` }; }
    const leg = snapping() ? lines().map((each) => ({ ...each, ...along(place, each.ends) })).filter((each) => each.gap < near && each.a !== without && each.b !== without).sort((a, b) => a.gap - b.gap)[0] : null;
    if (leg) { const mm = steps(leg.mm); return { ...put(mm, leg.ends, leg.length), place: { line: [leg.a, leg.b], mm }, why: `on ${leg.a} ${leg.b}` }; }
    const free = [data.area[0] + steps(place.x - data.area[0]), data.area[1] + steps(place.y - data.area[1])];
    return { x: free[0], y: free[1], place: { free }, why: "" };
  };
  // A direction that is square, parallel or at a plain angle, as far as the edge or the strip that it is drawn to.
  const onTurn = (place, near) => {
    if (dist(place.x, place.y, from.x, from.y) < 3 * near) return null;
    const ends = [...edges().map(([name, ...own]) => ({ meets: name, ends: own })), ...lines().map((leg) => ({ meets: [leg.a, leg.b], ends: leg.ends }))];
    const goal = ends.map((each) => ({ ...each, ...along(place, each.ends) })).filter((each) => along(from, each.ends).gap > near).sort((a, b) => a.gap - b.gap)[0];
    if (!goal || goal.gap > 2 * near) return null;
    const best = turnNear(place);
    if (!best) return null;
    const dx = Math.cos(best.turn * Math.PI / 180), dy = -Math.sin(best.turn * Math.PI / 180), [ax, ay, bx, by] = goal.ends;
    const across = dx * (by - ay) - dy * (bx - ax), t = ((ax - from.x) * (by - ay) - (ay - from.y) * (bx - ax)) / across, x = from.x + dx * t, y = from.y + dy * t;
    if (!Number.isFinite(t) || dist(x, y, place.x, place.y) > 3 * near || along({ x, y }, goal.ends).gap > 0.1) return null;
    const mm = steps(dist(ax, ay, x, y)), read = put(mm, goal.ends, goal.length), onEdge = typeof goal.meets === "string";
    if (onEdge && dist(read.x, read.y, x, y) < 0.1) return { ...read, place: { edge: goal.meets, mm }, why: best.say }; // a plain reading says the same
    return { x, y, place: { meets: goal.meets, from: "$start", ...best.way }, why: `${best.say}, to ${onEdge ? `the ${goal.meets} edge` : goal.meets.join(" ")}` };
  };

  // What is said while the hand moves: readings as on a tape measure.
  const reading = (mm) => {
    if (data.unit !== "in") return data.unit === "cm" ? `${Math.round(mm) / 10} cm` : `${Math.round(mm)} mm`;
    let under = Math.max(Math.round(25.4 / data.step), 1), parts = Math.round(mm / 25.4 * under);
    const whole = Math.floor(parts / under);
    parts %= under;
    while (parts && parts % 2 === 0) { parts /= 2; under /= 2; }
    return [whole || !parts ? whole : "", parts ? `${parts}/${under}` : ""].filter((part) => part !== "").join(" ") + " in";
  };
  const placed = (spot) => `${under && data.photo ? "about " : ""}${reading(spot.x - data.area[0])} across, ${reading(spot.y - data.area[1])} down${spot.why ? ` (${spot.why})` : ""}`;
  const say = (words) => { const place = tools()?.querySelector("[data-draw-said]"); if (place) place.textContent = words; };
  const angleOf = (a, b) => { const angle = Math.atan2(a.y - b.y, b.x - a.x) * 180 / Math.PI; return Math.round((((angle % 180) + 180) % 180) * 10) / 10; };

  // The letters of points, and the strip in hand at its true width.
  const photoUnder = () => {
    const wanted = data.photo && tools().querySelector("[data-photo-under]")?.checked;
    svg().querySelector(".photo-under")?.remove();
    frame().classList.toggle("over-photo", Boolean(wanted));
    if (!wanted) return;
    const [x, y] = onSvg(data.photo.box[0], data.photo.box[1]), [, , width, height] = data.photo.box;
    const cells = svg().querySelector(".layer-cells") ?? svg().firstChild;
    cells.parentNode.insertBefore(element("image", { class: "photo-under", href: data.photo.href, x, y, width, height, preserveAspectRatio: "none" }), cells);
  };
  document.addEventListener("change", (event) => { if (event.target.matches?.("[data-photo-under]")) { under = event.target.checked; paint(); } });
  const paint = () => {
    if (!svg() || !data) return;
    photoUnder();
    svg().querySelector(".layer-draw")?.remove();
    frame().classList.toggle("draws", mode !== "look");
    if (mode === "look") return;
    const layer = element("g", { class: "layer-draw" }), em = Number(svg().getAttribute("font-size")) || 20;
    for (const { ends } of data.legs) {
      const [x1, y1] = onSvg(ends[0], ends[1]), [x2, y2] = onSvg(ends[2], ends[3]);
      if (mode !== "color") layer.append(element("line", { class: "strip-laid", x1, y1, x2, y2, "stroke-width": data.tape }));
      layer.append(element("line", { class: "strip-line", x1, y1, x2, y2 }));
    }
    for (const { ends } of data.guides) { const [x1, y1] = onSvg(ends[0], ends[1]), [x2, y2] = onSvg(ends[2], ends[3]); layer.append(element("line", { class: "guide-line", x1, y1, x2, y2 })); }
    if (mode === "color") for (const [px, py] of data.bare) { const [x, y] = onSvg(px, py); layer.append(element("text", { class: "draw-letter bare", x, y, "text-anchor": "middle", "dominant-baseline": "central" }, "?")); }
    for (const { ends } of waiting) {
      if (!ends) continue;
      const [x1, y1] = onSvg(ends[0].x, ends[0].y), [x2, y2] = onSvg(ends[1].x, ends[1].y);
      layer.append(element("line", { class: "strip-drawn", x1, y1, x2, y2, "stroke-width": data.tape }));
    }
    if (from && cursor) {
      const [ax, ay] = onSvg(from.x, from.y), [bx, by] = onSvg(cursor.x, cursor.y);
      layer.append(element("line", { class: mode === "guide" ? "guide-line" : "strip-drawn", x1: ax, y1: ay, x2: bx, y2: by, "stroke-width": data.tape }), element("line", { class: "strip-line", x1: ax, y1: ay, x2: bx, y2: by }));
    }
    for (const point of data.points.filter((each) => typeof each.place === "string")) {
      const [x, y] = onSvg(point.x, point.y);
      layer.append(element("circle", { class: `draw-point${held === point.place ? " held" : ""}`, cx: x, cy: y, r: em * 0.35, "data-point": point.place }), element("text", { class: "draw-letter", x: x + em * 0.45, y: y - em * 0.45 }, point.place));
    }
    if (cursor) { const [x, y] = onSvg(cursor.x, cursor.y); layer.append(element("circle", { class: "draw-cursor", cx: x, cy: y, r: em * 0.5 })); }
    svg().append(layer);
  };

  // One thing after the other: each is sent with the revision that the one before it made. What is drawn meanwhile waits, and is seen; what points at strips by
  // their numbers doesn't, as these may be others by then.
  let queue = Promise.resolve();
  const waiting = [];
  const post = (values, ends) => {
    from = cursor = held = null;
    if (waiting.length && !["lay", "guide", "color"].includes(values.do)) {
      say("Not yet: what was drawn before is still being saved. Press it again in a moment.");
      paint();
      return queue;
    }
    const own = { ends };
    waiting.push(own);
    const told = setTimeout(() => { if (waiting.includes(own) && !own.failed) say(waiting.length > 1 ? `Saving ${waiting.length} things that were drawn…` : "Saving what was drawn…"); }, 1000);
    paint();
    queue = queue.then(() => sure(() => send(values), own)).then((saved) => {
      clearTimeout(told);
      waiting.splice(waiting.indexOf(own), 1);
      if (!saved) say("Not saved: the server doesn't answer. Draw it again once it does.");
      else if (!waiting.length && /^(Saving|Not yet|Not saved yet)/.test(tools()?.querySelector("[data-draw-said]")?.textContent ?? "")) say("");
      paint();
    });
    return queue;
  };
  // Sent until it is answered; what is drawn stays in sight meanwhile. Says whether it was.
  const TRIES = 10, AGAIN_MS = 3000;
  const sure = async (act, own) => {
    for (let tried = 0; tried < TRIES; tried += 1) {
      try { await act(); return true; } catch { own.failed = true; say("Not saved yet: no answer. Trying again…"); }
      await new Promise((done) => setTimeout(done, AGAIN_MS));
    }
    return false;
  };
  document.addEventListener("htmx:responseError", (event) => { if (event.detail.xhr.responseURL?.endsWith("/draw")) say("Not saved: the server couldn't take it. Draw it again; if that doesn't help, load the page anew."); });
  const send = (values) => {
    const form = document.getElementById("controls"), hidden = (name) => form.querySelector(`[name="${name}"]`)?.value ?? "";
    return globalThis.htmx.ajax("POST", tools().dataset.post, { source: tools(), target: "#work", swap: "morph:outerHTML", values: { csrf_token: hidden("csrf_token"), revision: hidden("revision"), ...values } });
  };
  const json = (spot) => JSON.stringify(spot.place);

  const setMode = (wanted) => {
    mode = wanted;
    from = cursor = held = null;
    tools().querySelectorAll("[data-do]").forEach((button) => button.setAttribute("aria-pressed", String(button.dataset.do === mode)));
    tools().querySelector("[data-swatches]").hidden = mode !== "color";
    tools().querySelector("[data-draw-set]").hidden = true;
    say({ lay: "Press where the strip starts, drag, let go where it ends. Or arrow keys and Enter.", move: "Drag a point, or press it and type its reading.", guide: "Draw along a line that is on the picture already. Nothing is laid there.", color: data.bare.length ? "Choose a colour, press a region; ? has none yet." : "Choose a colour, press a region.", cut: "Press the piece of a strip to cut away, between the strips that it meets.", remove: "Press a strip's line to take it off." }[mode] ?? "");
    if (mode !== "look") frame().focus({ preventScroll: true });
    paint();
  };
  document.addEventListener("click", (event) => { const button = event.target.closest?.("#draw [data-do]"); if (button) setMode(button.dataset.do); });

  const nearestLeg = (place) => [...data.legs.map((each, number) => ({ number, ...each })), ...(mode === "remove" ? data.guides.map((each, number) => ({ number, guide: true, ...each })) : [])].map((each) => ({ ...each, ...along(place, each.ends) })).sort((a, b) => a.gap - b.gap)[0];
  const nearestPoint = (place) => data.points.filter((each) => typeof each.place === "string").sort((a, b) => dist(a.x, a.y, place.x, place.y) - dist(b.x, b.y, place.x, place.y))[0];
  const show = (spot) => {
    cursor = spot;
    if (isLaying() && from) say(`From ${placed(from)} to ${placed(spot)}; ${reading(dist(from.x, from.y, spot.x, spot.y))} long, ${angleOf(from, spot)}° from level`);
    else if (isLaying() || held) say(placed(spot));
    paint();
  };
  const takeOff = (leg, place) => post({ do: leg.guide ? "unguide" : mode, strip: leg.number, at: JSON.stringify([place.x, place.y]) });
  const choosePoint = (point) => {
    held = point.place;
    const form = tools().querySelector("[data-draw-set]");
    form.hidden = false;
    form.elements.point.value = held;
    form.elements.reading.value = data.words[held] ?? "";
    form.querySelector("[data-draw-name]").textContent = `Point ${held}`;
  };
  const active = (event) => data && mode !== "look" && tools() && event.target.closest?.("#drawing svg");
  document.addEventListener("pointerdown", (event) => {
    if (!active(event) || event.button) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    const place = at(event);
    byKeys = false;
    touched = event.pointerType === "touch";
    pressedAt = [event.clientX, event.clientY];
    svg().setPointerCapture?.(event.pointerId);
    if (isLaying()) { if (from) return show(hold(place)); from = hold(place); return show(from); }
    if (mode === "move") { const point = nearestPoint(place); if (point && dist(point.x, point.y, place.x, place.y) < 2 * NEAR_PX / scale()) { choosePoint(point); paint(); } }
  }, true);
  document.addEventListener("pointermove", (event) => {
    if (!active(event)) return;
    byKeys = false;
    if (isLaying() && (from || event.pointerType === "mouse")) show(hold(at(event)));
    else if (mode === "move" && held && event.buttons) show(hold(at(event), held));
  });
  document.addEventListener("pointerup", (event) => {
    if (!active(event)) return;
    event.stopImmediatePropagation();
    const moved = pressedAt && dist(...pressedAt, event.clientX, event.clientY) > 6, place = at(event);
    pressedAt = null;
    if (isLaying() && from) {
      const end = cursor ?? hold(place); // what was seen is what is laid
      if (dist(from.x, from.y, end.x, end.y) > data.step) return void post({ do: mode, from: json(from), to: json(end) }, [from, end]);
      return show(from); // a tap: the next one ends it
    }
    if (mode === "move" && held && moved) return void post({ do: "move", point: held, to: json(cursor ?? hold(place, held)) });
    if (mode === "color") return void post({ do: "color", at: JSON.stringify([place.x, place.y]), color: tools().querySelector("[name=draw-color]:checked")?.value ?? "" });
    if (mode === "remove" || mode === "cut") { const leg = nearestLeg(place); if (leg && leg.gap < 2 * (touched ? FINGER_PX : NEAR_PX) / scale()) takeOff(leg, place); }
  }, true);
  document.addEventListener("click", (event) => { if (active(event)) event.stopImmediatePropagation(); }, true);

  // By keys: arrows move a cursor by graduations, by an inch or ten with Shift; Enter takes; Escape lets go.
  document.addEventListener("keydown", (event) => {
    if (!data || mode === "look" || !event.target.closest?.("#drawing")) return;
    const ways = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }, way = ways[event.key];
    if (!way && !["Enter", "Escape"].includes(event.key)) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    byKeys = true;
    if (event.key === "Escape") { if (from || held) { from = held = null; paint(); } else setMode("look"); return; }
    const big = data.unit === "in" ? 25.4 : 10, by = event.shiftKey ? big : data.step, start = cursor ?? { x: data.area[0], y: data.area[1] };
    if (way) return show(hold(inside({ x: start.x + way[0] * by * (event.altKey ? 12 : 1), y: start.y + way[1] * by * (event.altKey ? 12 : 1) }), "$keys"));
    if (isLaying()) { if (!from) { from = start.place ? start : hold(start); return show(from); } return void post({ do: mode, from: json(from), to: json(cursor) }, [from, cursor]); }
    if (mode === "color") return void post({ do: "color", at: JSON.stringify([start.x, start.y]), color: tools().querySelector("[name=draw-color]:checked")?.value ?? "" });
    if (mode === "remove" || mode === "cut") { const leg = nearestLeg(start); if (leg) takeOff(leg, start); }
    if (mode === "move") { if (!held) { choosePoint(nearestPoint(start)); return paint(); } post({ do: "move", point: held, to: json(cursor) }); }
  }, true);

  const again = () => { const wanted = mode, drawn = [from, cursor]; read(); if (data && wanted !== "look") { const place = tools().querySelector("[data-draw-said]"), told = [...place.childNodes].map((node) => node.cloneNode(true)); setMode(wanted); [from, cursor] = drawn; paint(); if (told.some((node) => node.textContent.trim())) place.replaceChildren(...told); } };
  document.addEventListener("DOMContentLoaded", read);
  document.addEventListener("htmx:afterSettle", again);
})();

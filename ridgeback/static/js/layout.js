/* The bench: a box moved with the hand. The hand moves at once; the server answers with fields and needs, one question at a time, late answers dropped. */
"use strict";
/* global bilinear: of ridgeback.js, which every page loads first. */

(() => {
  const root = document.querySelector("[data-workbench]");
  if (!root) return;
  const begin = JSON.parse(document.getElementById("layout-begin").textContent);
  const one = (name) => root.querySelector(`[data-${name}]`);
  const paper = one("paper");
  const token = root.querySelector("[name=csrfmiddlewaretoken]").value;
  const FINE_M = begin.inches ? 0.0127 : 0.01;
  const COARSE_M = begin.inches ? 0.0508 : 0.05;
  const SNAP_M = 0.015;
  const REST_MS = 160;
  const copy = (value) => JSON.parse(JSON.stringify(value));
  const round = (value) => Math.round(value * 10000) / 10000;
  const STORE = `layout-${begin.step}`;

  let state = copy(begin.state);
  const kept = JSON.stringify(begin.state);
  let keptAnswer = begin;
  let answered = begin;
  let chosen = "";
  let hour = null;
  let past = [];
  let future = [];
  let offered = [];
  const wantedLines = { light: false, damp: false }; // lines that are derivation out only when they are wanted

  /* --- asking: at most one question under way; the newest state is asked next; an answer to an old one is never painted over a newer --- */
  let asking = false;
  let wanted = false;
  let number = 0;
  let painted = 0;
  let typed = null;
  let resting = 0;
  let drag = null;

  async function post(address, more, headers) {
    return fetch(address, {
      method: "POST",
      headers: { "Content-Type": "application/json", "X-CSRFToken": token, ...headers },
      body: JSON.stringify({ seal: begin.seal, state, chosen, hour, ...wantedLines, ...more }),
    });
  }

  async function ask() {
    if (asking) {
      wanted = true;
      return;
    }
    asking = true;
    wanted = false;
    root.dataset.asking = "yes";
    const mine = ++number;
    const text = JSON.stringify(state);
    const extra = typed ? { typed } : {};
    const asTyped = typed;
    typed = null;
    try {
      const response = await post(begin.step, extra);
      if (!response.ok) throw new Error(String(response.status));
      const found = await response.json();
      found.state = found.state || JSON.parse(text);
      if (mine > painted) {
        painted = mine;
        if (asTyped && JSON.stringify(state) === text && !found.typed_wrong && found.state && JSON.stringify(found.state) !== text) {
          remember();
          state = found.state;
          store();
        }
        paint(found);
      }
    } catch {
      say("No answer: the drawing shows the last result. Move an item to ask again.");
    }
    asking = false;
    if (wanted || typed) {
      ask();
      return;
    }
    delete root.dataset.asking;
    settle();
  }

  function settle() {
    clearTimeout(resting);
    if (drag || asking || wanted) return;
    resting = setTimeout(askChanges, REST_MS);
  }

  async function askChanges() {
    const text = JSON.stringify(state);
    const response = await post(begin.changes, {});
    if (!response.ok || text !== JSON.stringify(state)) return;
    const found = await response.json();
    if (text !== JSON.stringify(state)) return;
    offered = found.states;
    one("changes").innerHTML = found.html;
    one("changes").classList.remove("soft");
  }

  /* --- painting --- */
  function paint(found) {
    if (found.sound) {
      answered = found;
      paper.innerHTML = found.shapes;
      paper.setAttribute("viewBox", `0 0 ${paper.viewBox.baseVal.width} ${Math.round(found.height)}`);
      one("needs").innerHTML = found.needs;
      one("moment").textContent = found.moment;
      if (wantedLines.damp && !found.fields.damp.length && !drag) say("Nobody has said yet how damp this enclosure is kept: its page asks, under Moisture.");
      follow();
      before(found);
    }
    paper.classList.toggle("void", !found.sound);
    one("needs").classList.toggle("void", !found.sound);
    if (!found.sound) one("needs").innerHTML = '<p class="verdict below">Nothing can be predicted for this enclosure: see what is marked.</p>';
    const list = one("problems");
    list.replaceChildren(
      ...found.problems.map((problem) => {
        const item = document.createElement("li");
        item.textContent = problem.text;
        item.className = problem.stops ? "stops" : "";
        if (problem.item) item.dataset.item = problem.item;
        return item;
      }),
    );
    for (const group of paper.querySelectorAll("[data-item]")) {
      group.classList.toggle("marked", found.problems.some((problem) => problem.item === group.dataset.item));
    }
    const focused = document.activeElement && document.activeElement.dataset ? document.activeElement.dataset.path : "";
    const unsent = document.activeElement && document.activeElement.matches("[data-path]") && document.activeElement.dataset.dirty;
    if (!unsent) {
      if (!found.typed_wrong && one("panel").dataset.shown !== found.panel) {
        one("panel").innerHTML = found.panel;
        one("panel").dataset.shown = found.panel;
      }
      if (focused) one("panel").querySelector(`[data-path="${focused}"]`)?.focus();
    }
    const wrong = one("typed-wrong");
    if (wrong) wrong.textContent = found.typed_wrong;
    listItems();
    buttons();
    document.documentElement.dataset.painted = String(painted);
  }

  /* What moved since the answer that is painted is shown where it is now. */
  function follow() {
    const were = new Map((answered.state.items || []).map((item) => [item.id, item]));
    const scale = answered.paper.scale;
    for (const group of paper.querySelectorAll("[data-item]")) {
      const now = state.items.find((item) => item.id === group.dataset.item);
      const was = were.get(group.dataset.item);
      if (!now || !was) {
        group.classList.toggle("gone", !now);
        continue;
      }
      const top = isTop(group);
      const dx = (now.at_m[0] - was.at_m[0]) * scale;
      const dy = -(top ? now.at_m[1] - was.at_m[1] : now.at_m[2] - was.at_m[2]) * scale;
      if (dx || dy) group.setAttribute("transform", `translate(${dx.toFixed(1)},${dy.toFixed(1)})`);
      else group.removeAttribute("transform");
    }
  }

  /* Before and after: the value as kept beside each need that moved, and the outline of where each thing stood. */
  const stood = document.createElementNS("http://www.w3.org/2000/svg", "svg");
  stood.innerHTML = begin.shapes;
  function before(found) {
    for (const was of one("needs").querySelectorAll("[data-was]")) {
      const old = begin.values[was.dataset.was];
      was.hidden = !old || !found.values[was.dataset.was] || old === found.values[was.dataset.was];
      was.textContent = `was ${old}`;
    }
    if (begin.paper.scale !== found.paper.scale || begin.paper.floor !== found.paper.floor) return;
    const first = paper.querySelector("[data-item]");
    for (const group of stood.querySelectorAll("[data-item]")) {
      const [was, now] = [begin.state, found.state].map((from) => from.items.find((item) => item.id === group.dataset.item));
      if (now && JSON.stringify([was.at_m, was.size_m, was.length_m]) === JSON.stringify([now.at_m, now.size_m, now.length_m])) continue;
      const ghost = group.cloneNode(true);
      ghost.removeAttribute("data-item");
      ghost.setAttribute("class", "ghost");
      paper.insertBefore(ghost, first);
    }
  }

  function isTop(group) {
    const enclosure = group.getBBox();
    return enclosure.y + enclosure.height / 2 > answered.paper.floor + 8;
  }

  let listed = "";
  function listItems() {
    const now = JSON.stringify([chosen, state.items.map((item) => [item.id, item.kind, item.power_w])]);
    if (now === listed) return;
    listed = now;
    const labels = state.items.map(label);
    const numbered = labels.map((text, at) => {
      const alike = labels.filter((other) => other === text).length;
      return alike > 1 ? `${text} ${labels.slice(0, at + 1).filter((other) => other === text).length}` : text;
    });
    one("items").replaceChildren(
      ...state.items.map((item, at) => {
        const row = document.createElement("li");
        const button = document.createElement("button");
        button.type = "button";
        button.textContent = numbered[at];
        button.dataset.choose = item.id;
        button.setAttribute("aria-pressed", String(item.id === chosen));
        row.append(button);
        return row;
      }),
    );
  }

  function label(item) {
    for (const group of begin.catalogue) {
      const offered = group.items.find((entry) => entry.item.kind === item.kind);
      if (offered) return item.power_w && !item.size_m ? `${offered.label}, ${item.power_w} W` : offered.label;
    }
    return item.kind;
  }

  function buttons() {
    const same = JSON.stringify(state) === kept;
    const set = (name, on) => (root.querySelector(`[data-do="${name}"]`).disabled = !on);
    set("undo", past.length > 0);
    set("redo", future.length > 0);
    const item = selected();
    set("duplicate", item);
    set("remove", item);
    set("rotate", item && item.size_m);
    set("compare", !same);
    set("keep", !same);
    set("forget", !same);
  }

  function say(text) {
    one("readout").textContent = text;
  }

  /* --- states --- */
  function remember() {
    past.push(JSON.stringify(state));
    future = [];
  }

  function store() {
    try {
      if (JSON.stringify(state) === kept) sessionStorage.removeItem(STORE);
      else sessionStorage.setItem(STORE, JSON.stringify({ revision: begin.revision, state }));
    } catch {
      /* a browser that stores nothing forgets on reload, and only then */
    }
  }

  function become(text) {
    state = JSON.parse(text);
    if (!selected()) chosen = "";
    store();
    follow();
    ask();
  }

  function undo() {
    if (!past.length) return;
    future.push(JSON.stringify(state));
    become(past.pop());
  }

  function redo() {
    if (!future.length) return;
    past.push(JSON.stringify(state));
    become(future.pop());
  }

  const selected = () => state.items.find((item) => item.id === chosen);

  function choose(id) {
    chosen = id;
    ask();
  }

  function freeId(stem) {
    for (let n = 1; ; n += 1) if (!state.items.some((item) => item.id === `${stem}-${n}`)) return `${stem}-${n}`;
  }

  function add(template, stem) {
    remember();
    const item = { ...copy(template), id: freeId(stem) };
    state.items.push(item);
    chosen = item.id;
    store();
    ask();
  }

  function duplicate() {
    const item = selected();
    if (!item) return;
    const twin = copy(item);
    const inside = state.enclosure.inside_m;
    const step = item.size_m ? item.size_m[0] + 0.02 : 0.15;
    twin.at_m[0] = round(twin.at_m[0] + step <= inside.length - reach(twin, 0) ? twin.at_m[0] + step : Math.max(twin.at_m[0] - step, reach(twin, 0)));
    add(twin, item.id.replace(/-\d+$/, ""));
  }

  function remove() {
    if (!selected()) return;
    remember();
    state.items = state.items.filter((item) => item.id !== chosen);
    for (const item of state.items) {
      // a thermostat whose probe is taken away holds the surface again
      if (item.thermostat && item.thermostat.probe_id === chosen) Object.assign(item.thermostat, { probe: "surface", probe_id: null });
    }
    chosen = "";
    store();
    follow();
    ask();
  }

  function rotate() {
    const item = selected();
    if (!item || !item.size_m) return;
    remember();
    item.size_m = [item.size_m[1], item.size_m[0], item.size_m[2]];
    keepInside(item);
    store();
    ask();
  }

  /* --- moving --- */
  const reach = (item, axis) => (item.size_m ? item.size_m[axis] / 2 : axis === 0 && item.length_m ? item.length_m / 2 : 0);

  /* Ground under a thing: level, or rising to one side. */
  function substrateAt(item) {
    const { depth_m: mean, slope } = state.enclosure.substrate;
    if (!slope) return mean;
    const x = (2 * item.at_m[0]) / state.enclosure.inside_m.length - 1;
    const y = (2 * item.at_m[1]) / state.enclosure.inside_m.depth - 1;
    return round(mean + slope.rise_m * { left: -x, right: x, back: y }[slope.deep_at]);
  }

  function keepInside(item) {
    const inside = state.enclosure.inside_m;
    const sides = [inside.length, inside.depth];
    for (const axis of [0, 1]) {
      const half = Math.min(reach(item, axis), sides[axis] / 2);
      item.at_m[axis] = round(Math.min(Math.max(item.at_m[axis], half), sides[axis] - half));
    }
    const substrate = substrateAt(item);
    if (item.kind === "heat_mat") item.at_m[2] = 0;
    else if (item.kind === "probe") item.at_m[2] = round(Math.min(Math.max(item.at_m[2], substrate), inside.height - 0.01));
    else if (item.size_m) {
      const free = ["slab", "branch", "plant"].includes(item.kind);
      const most = inside.height - item.size_m[2];
      if (item.kind === "pool") item.at_m[2] = round(Math.min(Math.max(item.at_m[2], 0), Math.max(substrate, 0)));
      else item.at_m[2] = free ? round(Math.min(Math.max(item.at_m[2], substrate), most)) : substrate;
    } else if (item.above_lid) item.at_m[2] = round(Math.min(Math.max(item.at_m[2], inside.height + 0.01), inside.height + 0.6));
    else item.at_m[2] = round(Math.min(Math.max(item.at_m[2], substrate + 0.03), inside.height - 0.01));
  }

  /* To whole centimetres, and to walls, ground, lid and the middles of other things when near. */
  function snap(item, axis, value) {
    const inside = state.enclosure.inside_m;
    const half = axis === 2 ? 0 : reach(item, axis);
    const tops = item.kind === "probe" ? state.items.filter((other) => other.kind === "slab").map((other) => round(other.at_m[2] + other.size_m[2])) : [];
    const marks = axis === 2 ? [substrateAt(item), inside.height - 0.03, ...tops] : [half, [inside.length, inside.depth][axis] - half];
    for (const other of state.items) if (other.id !== item.id && axis < 2) marks.push(other.at_m[axis]);
    const near = marks.reduce((best, mark) => (Math.abs(mark - value) < Math.abs(best - value) ? mark : best), Infinity);
    if (Math.abs(near - value) < SNAP_M) return round(near);
    return round(Math.round(value / FINE_M) * FINE_M);
  }

  function place(event) {
    const matrix = paper.getScreenCTM();
    return new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse());
  }

  paper.addEventListener("pointerdown", (event) => {
    if (event.button !== 0 || window.innerWidth < 760) return;
    const group = event.target.closest("[data-item]");
    if (!group) {
      if (chosen) choose("");
      spot(event);
      return;
    }
    one("spot").hidden = true;
    event.preventDefault();
    paper.focus({ preventScroll: true });
    paper.setPointerCapture(event.pointerId);
    const item = state.items.find((item) => item.id === group.dataset.item);
    if (!item) return;
    const grip = event.target.closest(".grip");
    drag = {
      id: item.id,
      top: isTop(group),
      grip: grip ? (grip.classList.contains("grip-x") ? 0 : grip.classList.contains("grip-y") ? 1 : 2) : -1,
      from: place(event),
      at: [...item.at_m],
      size: item.size_m ? [...item.size_m] : null,
      before: JSON.stringify(state),
      moved: false,
    };
    if (chosen !== item.id) choose(item.id);
  });

  paper.addEventListener("pointermove", (event) => {
    if (!drag) {
      readOut(event);
      return;
    }
    const item = state.items.find((item) => item.id === drag.id);
    if (!item) return;
    const now = place(event);
    const dx = (now.x - drag.from.x) / answered.paper.scale;
    const up = -(now.y - drag.from.y) / answered.paper.scale;
    const old = JSON.stringify(item);
    if (drag.grip >= 0) {
      const by = drag.grip === 0 ? dx : up;
      const size = Math.max(0.02, Math.round((drag.size[drag.grip] + by) / FINE_M) * FINE_M);
      item.size_m[drag.grip] = round(size);
      if (drag.grip < 2) item.at_m[drag.grip] = round(drag.at[drag.grip] + (size - drag.size[drag.grip]) / 2);
    } else {
      item.at_m[0] = snap(item, 0, drag.at[0] + dx);
      if (drag.top) item.at_m[1] = snap(item, 1, drag.at[1] + up);
      else item.at_m[2] = snap(item, 2, drag.at[2] + up);
      keepInside(item);
    }
    if (JSON.stringify(item) === old) return;
    drag.moved = true;
    follow();
    ask();
  });

  function drop() {
    if (!drag) return;
    if (drag.moved) {
      past.push(drag.before);
      future = [];
      store();
      buttons();
    }
    drag = null;
    settle();
  }
  paper.addEventListener("pointerup", drop);
  paper.addEventListener("pointercancel", drop);

  /* An empty place that was clicked: what is predicted there, and a reading to be taken of it. */
  function spot(event) {
    const at = place(event);
    const x = (at.x - answered.paper.left) / answered.paper.scale;
    const z = (answered.paper.floor - at.y) / answered.paper.scale;
    const inside = x >= 0 && x <= answered.fields.length && z >= answered.fields.substrate && z <= answered.fields.height;
    one("spot").hidden = !inside;
    if (!inside) return;
    readOut(event);
    one("spot-words").textContent = one("readout").textContent;
    const typedLength = (value) => (begin.inches ? `${(value / 0.0254).toFixed(1)} in` : `${(value * 100).toFixed(0)} cm`);
    const link = one("spot-log");
    link.href = `${begin.back}?from_left=${encodeURIComponent(typedLength(x))}&above_floor=${encodeURIComponent(typedLength(z))}#reading`;
    if (one("spot-x")) {
      one("spot-x").value = typedLength(x);
      one("spot-z").value = typedLength(z);
    }
  }

  function readOut(event) {
    const at = place(event);
    const sheet = answered.paper;
    const field = answered.fields;
    const x = (at.x - sheet.left) / sheet.scale;
    const z = (sheet.floor - at.y) / sheet.scale;
    const y = (sheet.front - at.y) / sheet.scale;
    const said = (value) => (begin.inches ? `${(value / 0.0254).toFixed(1)} in` : `${Math.round(value * 100)} cm`);
    if (x < 0 || x > field.length) return;
    if (z >= field.substrate && z <= field.height) {
      const up = (z - field.substrate) / (field.height - field.substrate);
      const air = bilinear(field.air, x / field.length, up);
      const uvi = bilinear(field.uvi, x / field.length, up);
      const damp = field.damp.length ? `, humidity ${Math.round(bilinear(field.damp, x / field.length, up))} %` : "";
      const lux = field.lux.length ? `, ${Math.round(bilinear(field.lux, x / field.length, up) / 100) * 100} lx` : "";
      say(`${said(x)} from the left, ${said(z)} up: air ${air.toFixed(1)} ${field.unit}, UVI ${uvi.toFixed(1)}${lux}${damp}`);
    } else if (y >= 0 && y <= field.depth) say(`${said(x)} from the left, ${said(y)} from the front`);
  }

  /* --- keys: a thing is moved in the view that was touched last; up and down mean height, with Alt depth --- */
  function nudge(axis, sign, coarse) {
    const item = selected();
    if (!item) return;
    const before = JSON.stringify(state);
    item.at_m[axis] = round(item.at_m[axis] + sign * (coarse ? COARSE_M : FINE_M));
    keepInside(item);
    if (JSON.stringify(state) === before) return;
    past.push(before);
    future = [];
    store();
    follow();
    ask();
  }

  function cycle(by) {
    const ids = state.items.map((item) => item.id);
    if (ids.length) choose(ids[(ids.indexOf(chosen) + by + ids.length) % ids.length]);
  }

  document.addEventListener("keydown", (event) => {
    if (event.target.closest("input:not([type=range]), select, textarea, dialog[open]")) return;
    const control = event.ctrlKey || event.metaKey;
    const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
    let done = true;
    if (control && key === "z") event.shiftKey ? redo() : undo();
    else if (control && key === "y") redo();
    else if (control) return;
    else if (event.target.closest("input[type=range], button, summary, a") && /^Arrow/.test(event.key)) return;
    else if (key === "ArrowLeft") nudge(0, -1, event.shiftKey);
    else if (key === "ArrowRight") nudge(0, 1, event.shiftKey);
    else if (key === "ArrowUp") nudge(event.altKey ? 1 : 2, 1, event.shiftKey);
    else if (key === "ArrowDown") nudge(event.altKey ? 1 : 2, -1, event.shiftKey);
    else if (key === "]") cycle(1);
    else if (key === "[") cycle(-1);
    else if (key === "d") duplicate();
    else if (key === "r") rotate();
    else if (key === "Delete" || key === "Backspace") remove();
    else if (key === "Escape") choose("");
    else done = false;
    if (done) {
      event.preventDefault();
      event.stopImmediatePropagation();
    }
  });

  /* --- buttons, numbers, changes --- */
  const doing = {
    undo,
    redo,
    duplicate,
    rotate,
    remove,
    compare() {
      const button = root.querySelector('[data-do="compare"]');
      const on = button.getAttribute("aria-pressed") !== "true";
      button.setAttribute("aria-pressed", String(on));
      const shown = on ? keptAnswer : answered;
      paper.innerHTML = shown.shapes;
      one("needs").innerHTML = shown.needs;
      root.classList.toggle("as-kept", on);
      if (!on) {
        follow();
      }
      say(on ? "The saved version. Press again for your changes." : "Your changes.");
    },
    forget() {
      remember();
      become(kept);
    },
    async keep() {
      const response = await post(begin.keep, {}, { "X-Revision": String(begin.revision) });
      const found = await response.json().catch(() => ({ why: "It could not be saved just now. Your changes are still here." }));
      if (!found.kept) {
        one("kept").textContent = found.why;
        return;
      }
      sessionStorage.removeItem(STORE);
      window.location.assign(found.to);
    },
  };

  root.addEventListener("click", (event) => {
    const button = event.target.closest("button");
    const problem = event.target.closest("[data-problems] [data-item]");
    if (problem) choose(problem.dataset.item);
    if (!button) return;
    if (button.dataset.layer) {
      const on = button.getAttribute("aria-pressed") !== "true";
      button.setAttribute("aria-pressed", String(on));
      paper.classList.toggle(`off-${button.dataset.layer}`, !on);
      paper.classList.toggle(`on-${button.dataset.layer}`, on);
      if (button.dataset.layer in wantedLines) {
        wantedLines[button.dataset.layer] = on;
        ask();
      }
      return;
    }
    if (button.dataset.do) doing[button.dataset.do]();
    if (button.dataset.choose) choose(button.dataset.choose);
    if (button.dataset.addItem) {
      const [group, item] = button.dataset.addItem.split("-").map(Number);
      const entry = begin.catalogue[group].items[item];
      add(entry.item, entry.stem);
      one("add").open = false;
    }
    if (button.dataset.try) {
      remember();
      become(JSON.stringify(offered[Number(button.dataset.try)]));
    }
  });

  one("panel").addEventListener("submit", (event) => event.preventDefault());
  one("panel").addEventListener("input", (event) => (event.target.dataset.dirty = "yes"));
  one("panel").addEventListener("change", (event) => {
    delete event.target.dataset.dirty;
    typed = { item: chosen, path: event.target.dataset.path, text: event.target.value };
    ask();
  });

  one("hour").addEventListener("input", (event) => {
    const value = Number(event.target.value);
    hour = value < 0 ? null : value;
    ask();
  });

  /* --- begin: with a found setup, or with what was left here before a reload --- */
  function left() {
    try {
      const stored = JSON.parse(sessionStorage.getItem(STORE) || "null");
      return stored && stored.revision === begin.revision ? stored.state : null;
    } catch {
      return null;
    }
  }

  const brought = begin.offered || left();
  if (brought) {
    past.push(kept);
    state = brought;
    store();
    ask();
    history.replaceState(null, "", window.location.pathname); // a reload shows what lies there by then
  }
  listItems();
  buttons();
  settle();
})();

/* The layout editor: items moved with the hand. The hand moves at once; the server answers with fields and needs. */

import { copy, keepInside, round, snap, twinOf } from "./geometry.js";
import { History } from "./history.js";
import { freeId, label, numbered } from "./names.js";
import { Questions } from "./questions.js";
import { inAir, placeOn, typedLength, wordsAt } from "./readout.js";

const root = document.querySelector("[data-workbench]");
if (root) start();

function start() {
  const begin = JSON.parse(document.getElementById("layout-begin").textContent);
  const one = (name) => root.querySelector(`[data-${name}]`);
  const paper = one("paper");
  const token = root.querySelector("[name=csrfmiddlewaretoken]").value;
  const FINE_M = begin.inches ? 0.0127 : 0.01;
  const COARSE_M = begin.inches ? 0.0508 : 0.05;
  const REST_MS = 160;
  const STORE = `layout-${begin.step}`;

  let state = copy(begin.state);
  const kept = JSON.stringify(begin.state);
  let keptAnswer = begin;
  let answered = begin;
  let chosen = "";
  let hour = null;
  const history = new History();
  let offered = [];
  const wantedLines = { light: false, damp: false }; // lines that are derivation out only when they are wanted

  /* --- asking: at most one question under way; the newest state is asked next; an answer to an old one is never painted over a newer --- */
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

  async function put() {
    root.dataset.asking = "yes";
    const text = JSON.stringify(state);
    const asTyped = typed;
    typed = null;
    const response = await post(begin.step, asTyped ? { typed: asTyped } : {});
    if (!response.ok) throw new Error(String(response.status));
    const found = await response.json();
    found.state = found.state || JSON.parse(text);
    return { found, text, asTyped };
  }

  function answer({ found, text, asTyped }) {
    const untouched = JSON.stringify(state) === text;
    if (asTyped && untouched && !found.typed_wrong && JSON.stringify(found.state) !== text) {
      remember();
      state = found.state;
      store();
    }
    paint(found);
  }

  const questions = new Questions({
    ask: put,
    answered: answer,
    failed: () => say("No answer: the drawing shows the last result. Move an item to ask again."),
    settled: () => {
      if (typed) {
        ask();
        return;
      }
      delete root.dataset.asking;
      settle();
    },
  });
  const ask = () => questions.next();

  function settle() {
    clearTimeout(resting);
    if (drag || questions.underWay) return;
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
    document.documentElement.dataset.painted = String(questions.painted);
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

  /* Before and after: the value as kept beside each need that moved, and the outline of where each item stood. */
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
    const names = numbered(state.items.map((item) => label(item, begin.catalogue)));
    one("items").replaceChildren(
      ...state.items.map((item, at) => {
        const row = document.createElement("li");
        const button = document.createElement("button");
        button.type = "button";
        button.textContent = names[at];
        button.dataset.choose = item.id;
        button.setAttribute("aria-pressed", String(item.id === chosen));
        row.append(button);
        return row;
      }),
    );
  }

  function buttons() {
    const same = JSON.stringify(state) === kept;
    const set = (name, on) => (root.querySelector(`[data-do="${name}"]`).disabled = !on);
    set("undo", history.past.length > 0);
    set("redo", history.future.length > 0);
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
  const remember = () => history.remember(JSON.stringify(state));

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
    const before = history.undo(JSON.stringify(state));
    if (before) become(before);
  }

  function redo() {
    const after = history.redo(JSON.stringify(state));
    if (after) become(after);
  }

  const selected = () => state.items.find((item) => item.id === chosen);

  function choose(id) {
    chosen = id;
    ask();
  }

  function add(template, stem) {
    remember();
    const item = { ...copy(template), id: freeId(stem, state.items) };
    state.items.push(item);
    chosen = item.id;
    store();
    ask();
  }

  function duplicate() {
    const item = selected();
    if (!item) return;
    add(twinOf(item, state.enclosure), item.id.replace(/-\d+$/, ""));
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
    keepInside(item, state.enclosure);
    store();
    ask();
  }

  /* --- moving --- */
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
      item.at_m[0] = snap(item, 0, drag.at[0] + dx, state, FINE_M);
      if (drag.top) item.at_m[1] = snap(item, 1, drag.at[1] + up, state, FINE_M);
      else item.at_m[2] = snap(item, 2, drag.at[2] + up, state, FINE_M);
      keepInside(item, state.enclosure);
    }
    if (JSON.stringify(item) === old) return;
    drag.moved = true;
    follow();
    ask();
  });

  function drop() {
    if (!drag) return;
    if (drag.moved) {
      history.remember(drag.before);
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
    const at = placeOn(answered.paper, place(event));
    const inside = inAir(answered.fields, at);
    one("spot").hidden = !inside;
    if (!inside) return;
    readOut(event);
    one("spot-words").textContent = one("readout").textContent;
    const [x, z] = [at.x, at.z].map((value) => typedLength(value, begin.inches));
    const link = one("spot-log");
    link.href = `${begin.back}?from_left=${encodeURIComponent(x)}&above_floor=${encodeURIComponent(z)}#reading`;
    if (one("spot-x")) {
      one("spot-x").value = x;
      one("spot-z").value = z;
    }
  }

  function readOut(event) {
    const said = wordsAt(answered.fields, placeOn(answered.paper, place(event)), begin.inches);
    if (said) say(said);
  }

  /* --- keys: an item is moved in the view that was touched last; up and down mean height, with Alt depth --- */
  function nudge(axis, sign, coarse) {
    const item = selected();
    if (!item) return;
    const before = JSON.stringify(state);
    item.at_m[axis] = round(item.at_m[axis] + sign * (coarse ? COARSE_M : FINE_M));
    keepInside(item, state.enclosure);
    if (JSON.stringify(state) === before) return;
    history.remember(before);
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
    history.remember(kept);
    state = brought;
    store();
    ask();
    window.history.replaceState(null, "", window.location.pathname); // a reload shows what lies there by then
  }
  listItems();
  buttons();
  settle();
}

/* What lives only in the browser: layers of the drawing, the read-out at the pointer, a reading's usual instrument, the derivation's dialog. Loaded before Alpine. */
import { bilinear } from "./field.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("sheet", () => ({
    said: "",
    init() {
      this.said = this.$root.querySelector(".readout").textContent;
    },
    toggle(event) {
      const button = event.currentTarget;
      const on = button.getAttribute("aria-pressed") !== "true";
      button.setAttribute("aria-pressed", String(on));
      for (const drawing of this.$root.querySelectorAll(".drawing-sheet")) {
        drawing.classList.toggle(`off-${button.dataset.layer}`, !on);
        drawing.classList.toggle(`on-${button.dataset.layer}`, on);
      }
    },
    read(event) {
      const said = readAt(event);
      if (said) this.said = said;
    },
  }));
  /* Where it is measured is tapped on the drawing, or chosen from the list: each shows in the other. */
  window.Alpine.data("places", () => ({
    init() {
      this.mark();
    },
    form() {
      const inside = this.$root.querySelector(".measure-form, .place-form");
      return this.$root.matches(".place-form") ? this.$root : inside;
    },
    /* Of a file each column has a place of its own: the one that was touched last is asked for. */
    touched: null,
    columns() {
      const all = this.$root.querySelectorAll('select[name^="place_"]');
      return [...all].filter((one) => one.checkVisibility({ visibilityProperty: true }));
    },
    field() {
      const form = this.form();
      if (!form) return null;
      if (form.elements.place) return form.elements.place;
      const columns = this.columns();
      return columns.includes(this.touched) ? this.touched : columns[0] || null;
    },
    touch(event) {
      if (!this.columns().includes(event.target)) return;
      this.touched = event.target;
      this.mark();
    },
    tap(event) {
      const tapped = event.target.closest(".place-mark");
      const field = this.field();
      if (!tapped || !field) return;
      field.value = tapped.dataset.item;
      const columns = this.columns();
      const next = columns[columns.indexOf(field) + 1];
      if (next) this.touched = next;
      this.mark();
      if (!columns.length) this.form().scrollIntoView({ block: "nearest" });
    },
    mark() {
      const field = this.field();
      if (!field) return;
      for (const one of this.$root.querySelectorAll(".place-mark")) {
        one.classList.toggle("is-chosen", one.dataset.item === field.value);
      }
      for (const one of this.columns()) {
        one.closest("tr").classList.toggle("is-asked", one === field);
      }
    },
  }));
  /* Points tapped on a photo: they tell its scale, or, once that is known, a length. */
  window.Alpine.data("photoScale", () => ({
    points: [],
    next: "",
    said: "",
    init() {
      this.said = "Tap two points.";
      for (const name of POINT_NAMES) {
        const point = this.typed(name);
        if (point) this.points.push(point);
      }
      this.show();
    },
    typed(name) {
      const x = document.getElementById(`id_${name}_x`);
      const y = document.getElementById(`id_${name}_y`);
      return x && x.value !== "" && y.value !== "" ? [x.value / 100, y.value / 100] : null;
    },
    most() {
      const kind = document.getElementById("id_kind");
      return kind && kind.value === "thing" ? 3 : 2;
    },
    tap(event) {
      const photo = event.currentTarget;
      const { width, height } = photo.viewBox.baseVal;
      const onPhoto = photo.getScreenCTM().inverse();
      const { x, y } = new DOMPoint(event.clientX, event.clientY).matrixTransform(onPhoto);
      if (x < 0 || y < 0 || x > width || y > height) return;
      if (this.points.length >= this.most()) this.points = [];
      this.points.push([x / width, y / height]);
      this.show();
    },
    clear() {
      this.points = [];
      this.show();
    },
    fade(event) {
      const over = this.$root.querySelector(".over-photo");
      over.setAttribute("opacity", String(event.currentTarget.value / 100));
    },
    show() {
      const { width, height } = this.$root.querySelector("svg").viewBox.baseVal;
      const marks = this.$root.querySelectorAll(".photo-point");
      marks.forEach((mark, n) => {
        const point = this.points[n];
        mark.classList.toggle("is-set", Boolean(point));
        if (point) placeAt(mark, point[0] * width, point[1] * height);
      });
      POINT_NAMES.forEach((name, n) => {
        for (const [axis, letter] of ["x", "y"].entries()) {
          const field = document.getElementById(`id_${name}_${letter}`);
          const point = this.points[n];
          if (field) field.value = point ? (100 * point[axis]).toFixed(1) : "";
        }
      });
      this.join(width, height);
      this.next = NEXT_POINT[this.points.length];
    },
    join(width, height) {
      const line = this.$root.querySelector(".photo-line");
      const [first, second] = this.points;
      line.classList.toggle("is-set", Boolean(second));
      if (!second) return;
      line.setAttribute("x1", first[0] * width);
      line.setAttribute("y1", first[1] * height);
      line.setAttribute("x2", second[0] * width);
      line.setAttribute("y2", second[1] * height);
      const pixels = Math.hypot((second[0] - first[0]) * width, (second[1] - first[1]) * height);
      const scale = Number(this.$root.dataset.pixelsPerMetre);
      if (scale) this.said = lengthText(pixels / scale, this.$root.dataset.unit);
    },
  }));
  /* The instrument follows what is read with it; another can still be chosen. */
  window.Alpine.data("reading", () => ({
    follow(event) {
      const form = event.currentTarget;
      if (event.target.name !== "need") return;
      const usual = JSON.parse(form.querySelector("#usual-instruments").textContent);
      form.elements.instrument.value = usual[event.target.value];
    },
  }));
});

const POINT_NAMES = ["first", "second", "corner"];
const NEXT_POINT = [
  "Tap the first point.",
  "Tap the second point.",
  "Two points are set. For something else than the corners, tap the lower left front corner as well.",
  "All three points are set.",
];

function placeAt(mark, x, y) {
  mark.setAttribute("cx", x);
  mark.setAttribute("cy", y);
}

function lengthText(metres, system) {
  return system === "us" ? `${(metres / 0.0254).toFixed(1)} in` : `${(100 * metres).toFixed(0)} cm`;
}

/* The field's value under the pointer. The box is found on the drawing itself, so that both sheets read alike. */
function readAt(event) {
  const drawing = event.currentTarget.querySelector("svg");
  const data = document.getElementById("read-out");
  const inside = drawing && drawing.querySelector(".inside");
  if (!data || !inside) return "";
  const field = JSON.parse(data.textContent);
  const frame = inside.getBoundingClientRect();
  const x = (event.clientX - frame.left) / frame.width;
  const z = (1 - (event.clientY - frame.top) / frame.height) * field.height;
  if (x < 0 || x > 1 || z > field.height || z < 0) return "";
  if (z < field.substrate) return "in the substrate";
  const up = (z - field.substrate) / (field.height - field.substrate);
  const air = bilinear(field.air, x, up);
  const uvi = bilinear(field.uvi, x, up);
  const lux = Math.round(bilinear(field.lux, x, up) / 100) * 100;
  return `air ${air.toFixed(1)} ${field.unit}, UVI ${uvi.toFixed(uvi < 10 ? 1 : 0)}, ${lux.toLocaleString("en").replace(/,/g, "\u202f")} lx`;
}

/* How a number was calculated opens at once; its content comes from the server: of what is being tried where its form is on the page, else of what is saved. Without scripts the link leads to a page. */
document.addEventListener("click", async (event) => {
  const opener = event.target.closest("a.num, [data-derivation]");
  const dialog = document.querySelector("[data-derivation-dialog]");
  if (!opener || !dialog || event.ctrlKey || event.metaKey) return;
  event.preventDefault();
  const body = document.getElementById("derivation-body");
  body.textContent = "Calculating …";
  if (!dialog.open) dialog.showModal();
  const form = document.getElementById("layout-form");
  const asked = { headers: { "HX-Request": "true" } };
  if (form) Object.assign(asked, { method: "POST", body: new FormData(form) });
  try {
    const response = await fetch(opener.href, asked);
    if (!response.ok) throw new Error(String(response.status));
    body.innerHTML = await response.text();
  } catch {
    body.textContent = "It could not be shown just now. Close this and try again.";
  }
});

/* What each key does, fetched when it is first asked for. */
async function showKeys() {
  const dialog = document.querySelector("[data-keys]");
  if (!dialog || dialog.open) return;
  dialog.showModal();
  const body = dialog.querySelector("[data-keys-body]");
  if (!body.childElementCount) body.innerHTML = await (await fetch(dialog.dataset.keys)).text();
}

/* Single keys, where nothing is being typed. What a key does is written on the page: data-key names a link to follow or a field to enter. */
document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || event.target.closest("input:not([type=radio]), select, textarea, dialog[open]")) return;
  if (event.key === "?") {
    showKeys();
    return;
  }
  if (event.key === "j" || event.key === "k") {
    const rows = [...document.querySelectorAll(".enclosure-row")];
    const at = rows.indexOf(document.activeElement);
    const next = rows[event.key === "j" ? Math.min(at + 1, rows.length - 1) : Math.max(at - 1, 0)];
    if (next) next.focus();
    return;
  }
  const target = [...document.querySelectorAll("[data-key]")].find((one) => one.dataset.key === event.key);
  if (!target) return;
  event.preventDefault();
  if (target.matches("input, textarea")) target.focus();
  else target.click();
});

/* The reader's own time zone: for the day before there is a room, and for the first room. */
document.addEventListener("DOMContentLoaded", () => {
  const own = Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC";
  document.cookie = `zone=${encodeURIComponent(own)}; path=/; max-age=31536000; SameSite=Lax`;
  const zone = document.querySelector('[data-zone=""]');
  if (zone && zone.value === "UTC") zone.value = own;
});

/* A life plan opens at the stage of today; a page prints on a click. */
document.addEventListener("DOMContentLoaded", () => {
  const plan = document.querySelector("[data-life-plan]");
  const strip = plan && plan.querySelector(".life-plan-scroll");
  if (strip) strip.scrollLeft = Number(plan.dataset.today) * strip.scrollWidth;
});
document.addEventListener("click", (event) => {
  if (event.target.closest("[data-print]")) {
    const folded = [...document.querySelectorAll("main details:not([open])")]; // paper unfolds nothing
    for (const one of folded) one.open = true;
    window.print();
    for (const one of folded) one.open = false;
  }
});

/* A drawing as PNG: the SVG itself, painted at twice its size by the browser. Without scripts the link fetches the SVG. */
document.addEventListener("click", async (event) => {
  const link = event.target.closest("[data-png]");
  if (!link) return;
  event.preventDefault();
  const text = await (await fetch(link.href)).text();
  const picture = new Image();
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`;
  await picture.decode();
  const canvas = document.createElement("canvas");
  canvas.width = 2 * picture.naturalWidth;
  canvas.height = 2 * picture.naturalHeight;
  const paper = canvas.getContext("2d");
  paper.fillStyle = "#ffffff";
  paper.fillRect(0, 0, canvas.width, canvas.height);
  paper.drawImage(picture, 0, 0, canvas.width, canvas.height);
  canvas.toBlob((blob) => {
    const made = document.createElement("a");
    made.href = URL.createObjectURL(blob);
    made.download = link.dataset.png;
    made.click();
    setTimeout(() => URL.revokeObjectURL(made.href), 5000);
  }, "image/png");
});

/* A page counts what is typed, so that the server knows an older draft from a newer one. */
for (const event of ["input", "change"]) {
  document.addEventListener(event, ({ target }) => {
    const form = target.closest("[data-counted]");
    const count = form && form.querySelector("[data-draft-seq]");
    if (count) count.value = String(Number(count.value) + 1);
  }, true);
}

/* A form is sent once. What takes longer than 300 ms shows that it works; a page that comes back from the browser's memory can be sent again. */
const WAIT_MS = 300;
const GIVE_UP_MS = 30000;
function waits(form, button) {
  form.dataset.sending = "yes";
  form.setAttribute("aria-busy", "true");
  const shown = setTimeout(() => {
    if (button) button.classList.add("is-waiting");
  }, WAIT_MS);
  setTimeout(() => rests(form), GIVE_UP_MS);
  return shown;
}
function rests(form) {
  delete form.dataset.sending;
  form.removeAttribute("aria-busy");
  for (const one of form.elements) one.classList.remove("is-waiting");
}
/* A filter is saved as the list is searched now, whatever it was when the page came. */
document.addEventListener("submit", ({ target }) => {
  const finder = document.querySelector(".finder");
  if (!target.matches(".save-filter") || !finder) return;
  target.elements.query.value = finder.elements.query.value;
  target.elements.state.value = finder.elements.state.value;
}, true);

/* One tick for all rows that are shown. */
document.addEventListener("change", ({ target }) => {
  if (!target.matches("[data-tick-all]")) return;
  for (const box of target.form.querySelectorAll(".pick input")) box.checked = target.checked;
});

document.addEventListener("submit", (event) => {
  const form = event.target;
  if (event.defaultPrevented || form.method !== "post") return;
  if (form.dataset.sending) {
    event.preventDefault();
    return;
  }
  waits(form, event.submitter);
});
window.addEventListener("pageshow", () => {
  for (const form of document.querySelectorAll("form[data-sending]")) rests(form);
});
document.addEventListener("htmx:beforeRequest", ({ detail }) => {
  const target = detail.target;
  target.waitsFor = setTimeout(() => target.setAttribute("aria-busy", "true"), WAIT_MS);
});
document.addEventListener("htmx:afterRequest", ({ detail }) => {
  clearTimeout(detail.target.waitsFor);
  detail.target.removeAttribute("aria-busy");
  if (detail.elt.matches("form")) rests(detail.elt);
});

/* A passkey that was not used: the browser's reason in words of ours, beside its button. */
const PASSKEY_PROBLEMS = {
  NotAllowedError: "No passkey was used: it was cancelled, or took too long. Try once more.",
  InvalidStateError: "This device already has a passkey for this account.",
  SecurityError: "Passkeys need a name instead of a number as the address, and https outside this machine.",
};

document.addEventListener("allauth.error", (event) => {
  event.preventDefault();
  const said = document.querySelector("[data-passkey-problem]");
  if (!said) return;
  const problem = PASSKEY_PROBLEMS[event.detail.exception && event.detail.exception.name];
  said.textContent = problem || "That did not work. Sign in with your password instead.";
  said.hidden = false;
});

/* On a phone a row of tabs is wider than the screen: the open one comes into sight. */
for (const row of document.querySelectorAll(".local-nav ul")) {
  const open = row.querySelector("[aria-current]");
  if (!open) continue;
  const [tab, seen] = [open, row].map((one) => one.getBoundingClientRect());
  row.scrollLeft += tab.left + tab.width / 2 - (seen.left + seen.width / 2);
}

/* The round: taps go into a queue of this page and are sent one after another. Without network they wait, over a reload too; each carries its own key,
   so that what was sent twice is done once. What others do is asked for every few seconds. Without scripts every button is a form. */
"use strict";

(() => {
  const page = document.querySelector("[data-today]");
  if (!page) return;
  const STORE = `ridgeback-today-${page.dataset.keeper}`; // a device shared by two keeps two queues: nobody's logRequest goes out under another's name
  const AGAIN_MS = 3000;
  const ASK_MS = 4000;
  const PATIENCE_MS = 12000;
  let sending = false;
  let latest = page.dataset.latest;
  const later = new Map();

  const queue = () => {
    try {
      return JSON.parse(localStorage.getItem(STORE) || "[]");
    } catch {
      return [];
    }
  };
  const keep = (logRequests) => {
    try {
      localStorage.setItem(STORE, JSON.stringify(logRequests));
    } catch {
      /* a full or forbidden store: the taps of this page still go out, they only do not outlive it */
    }
    memory = logRequests;
  };
  let memory = queue();
  let lost = "";

  const token = () => page.querySelector("input[name=csrfmiddlewaretoken]")?.value || "";
  const slot = (enclosure) => page.querySelector(`[data-enclosure="${CSS.escape(String(enclosure))}"]`);

  function say(text) {
    const line = page.querySelector("[data-waiting]");
    line.hidden = !text;
    line.textContent = text;
  }

  function count() {
    const tasks = [...page.querySelectorAll("form.task")];
    const here = tasks.filter((task) => !task.classList.contains("kept")).length;
    const after = page.querySelector("[data-rest]")?.dataset ?? { left: "0", all: "0" }; // enclosures that are not sent yet
    const leftElsewhere = Number(after.left) + Number(page.dataset.beforeLeft);
    const allElsewhere = Number(after.all) + Number(page.dataset.beforeAll);
    const left = here + leftElsewhere;
    const done = page.querySelectorAll(".today-done li").length + tasks.length - here + allElsewhere - leftElsewhere;
    page.querySelector("[data-left]").textContent = left ? `${left} of ${left + done} left` : "all done";
  }

  /* A card that somebody is typing in is not taken away under the hand. */
  function put(enclosure, html) {
    const here = slot(enclosure);
    if (!here) return;
    if (here.contains(document.activeElement) && document.activeElement.matches("input:not([type=hidden])")) {
      later.set(String(enclosure), html);
      return;
    }
    const focus = here.contains(document.activeElement);
    here.innerHTML = html;
    later.delete(String(enclosure));
    mark();
    const wrong = here.querySelector(".wrong[role=alert]");
    if (wrong) wrong.closest("form").querySelector(".more-fields input")?.focus();
    else if (focus) here.querySelector("button, a")?.focus();
    count();
  }

  /* What waits is shown as taken, so that nobody taps it again. */
  function mark() {
    const waiting = new Set(memory.map((logRequest) => logRequest.fields.task));
    for (const task of page.querySelectorAll("form.task")) {
      const taken = waiting.has(task.elements.task.value);
      task.classList.toggle("kept", taken);
      for (const button of task.querySelectorAll("button")) button.disabled = taken;
    }
    count();
  }

  async function post(url, fields) {
    const stop = new AbortController();
    const clock = setTimeout(() => stop.abort(), PATIENCE_MS);
    try {
      return await fetch(url, {
        method: "POST",
        headers: { "X-Today": "1", "X-CSRFToken": token() },
        body: new URLSearchParams(fields),
        signal: stop.signal,
      });
    } finally {
      clearTimeout(clock);
    }
  }

  /* A plain tap comes back as its line alone: it takes the task's place. The last one of an enclosure asks for the whole card. */
  function line(logRequest, html) {
    const here = slot(logRequest.enclosure);
    if (!here) return;
    for (const task of here.querySelectorAll("form.task")) if (task.elements.task.value === logRequest.fields.task) task.remove();
    let list = here.querySelector(".today-done");
    if (!list) {
      list = document.createElement("ul");
      list.className = "today-done";
      here.append(list);
    }
    list.insertAdjacentHTML("afterbegin", html);
    mark();
    // A meal may have taken the supplement that another of the same day was to carry.
    if (!here.querySelector("form.task") || logRequest.fields.task.includes("/feed ")) refresh(logRequest.enclosure);
  }

  async function refresh(enclosure) {
    try {
      const answer = await fetch(page.dataset.card.replace("/0/", `/${encodeURIComponent(enclosure)}/`), { headers: { "X-Today": "1" } });
      if (answer.ok && !answer.redirected) put(enclosure, await answer.text());
    } catch {
      /* no network: the next look brings it */
    }
  }

  /* A tap that nobody can take any more, because its enclosure is empty or is gone, is said once and not kept. */
  function gone(logRequest, status) {
    mark();
    lost = status === 404 ? "A log entry that waited found no animal in its enclosure any more: it was not saved." : `A log entry was not saved (${status}): look at its enclosure again.`;
    say(lost);
  }

  async function flush() {
    if (sending) return;
    sending = true;
    try {
      while (memory.length) {
        const logRequest = memory[0];
        let answer;
        try {
          answer = await post(logRequest.url, { ...logRequest.fields, age_s: String((Date.now() - logRequest.at) / 1000) });
        } catch {
          say(`No network: ${memory.length} ${memory.length === 1 ? "log entry waits" : "log entries wait"} on this device and will be sent.`);
          setTimeout(flush, AGAIN_MS);
          return;
        }
        if (answer.redirected || answer.status === 403) {
          say(`Sign in again: ${memory.length} ${memory.length === 1 ? "log entry waits" : "log entries wait"} on this device.`);
          return;
        }
        if (answer.status >= 500) {
          say("The server is busy: log entries wait on this device.");
          setTimeout(flush, AGAIN_MS);
          return;
        }
        keep(memory.slice(1));
        if (answer.headers.get("X-Today-Part") === "entry") line(logRequest, await answer.text());
        else if (answer.status === 200 || answer.status === 422) put(logRequest.enclosure, await answer.text());
        else gone(logRequest, answer.status);
      }
      say(lost);
      lost = "";
    } finally {
      sending = false;
    }
  }

  page.addEventListener("submit", async (event) => {
    const form = event.target;
    if (form.matches("[data-undo]")) {
      event.preventDefault();
      const enclosure = form.closest("[data-enclosure]").dataset.enclosure;
      try {
        const answer = await post(form.action, {});
        if (answer.ok && !answer.redirected) put(enclosure, await answer.text());
        else location.reload();
      } catch {
        say("No network: undo it once you are online again.");
      }
      return;
    }
    if (!form.matches("[data-log-request]")) return;
    event.preventDefault();
    const data = new FormData(form);
    data.set("outcome", event.submitter?.value || "done");
    data.delete("csrfmiddlewaretoken");
    document.activeElement?.blur();
    keep([...memory, { enclosure: form.closest("[data-enclosure]").dataset.enclosure, url: form.action, fields: Object.fromEntries(data), at: Date.now() }]);
    mark();
    flush();
  });

  page.addEventListener("click", (event) => {
    const opener = event.target.closest("[data-open]");
    if (!opener) return;
    const more = opener.closest("form").querySelector("details");
    more.open = !more.open;
    opener.setAttribute("aria-expanded", String(more.open));
    if (more.open) more.querySelector("input:not([type=hidden])").focus();
  });

  page.addEventListener("focusout", () => setTimeout(() => {
    for (const [enclosure, html] of [...later]) put(enclosure, html);
  }, 200));

  async function ask() {
    if (document.hidden || memory.length) return;
    try {
      const answer = await fetch(`${page.dataset.changes}?after=${encodeURIComponent(latest)}`, { headers: { "X-Today": "1" } });
      if (!answer.ok || answer.redirected) return;
      const told = await answer.json();
      latest = told.latest;
      for (const [enclosure, html] of Object.entries(told.cards)) put(enclosure, html);
    } catch {
      /* no network: it is asked again */
    }
  }

  page.addEventListener("htmx:afterSettle", mark); // further enclosures came
  window.addEventListener("online", flush);
  setInterval(ask, ASK_MS);
  mark();
  flush();
})();

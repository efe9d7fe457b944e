// The page's conversation with the program: edits in order, tries newest first, parts swapped in as they come.
(() => {
  const work = {
    base: "", stage: "", snapshot: 0, sealed: false,
    seq: 0, shown: 0, busy: false, tried: null,
    edits: [], // typed and not confirmed by the program yet, in their order; only its answer takes one out
    refused: new Set(), // paths of fields that the program would not take as typed
    retry: 0, pauses: 0,
    onTrouble: () => {}, onWait: () => {},
    pending: null, // what is still being worked out: its token, and whether it is only a look

    // Everything a page asks along with an edit, such as which weight levels it.
    questions() {
      const ask = {};
      document.querySelectorAll("[data-ask]").forEach((el) => { ask[el.dataset.ask] = el.value; });
      return ask;
    },

    // An edit to keep. One for the same field replaces an earlier one that has not left yet.
    keep(change) {
      const once = change.action !== "set" && !change.latest;
      const same = once ? -1 : this.edits.findIndex((c) => !c.sent && c.path === change.path && c.action === change.action);
      if (same >= 0) this.edits.splice(same, 1);
      this.edits.push(change);
      this.tried = null;
      this.standing();
      return this.run();
    },

    // What the band says of it: saved only when every edit was confirmed.
    standing() {
      const place = document.querySelector(".saved");
      if (!place) return;
      const words = this.edits.length ? "Not saved yet" : this.refused.size ? "Not all saved" : "Saved";
      place.classList.toggle("is-unsaved", words !== "Saved");
      if (place.textContent !== words) place.textContent = words;
    },

    // A weight put at a place: of several only the last counts.
    placing(line, place) {
      return { action: "do", verb: "weights.place", path: `weights.${line}.at_m`, args: { line: Number(line), place }, latest: true };
    },

    // A look without keeping: only the newest one waits; ``whole`` asks for the page's form too.
    look(change, whole = false) {
      if (this.pending && this.pending.look) this.stop(); // an older question's answer is not wanted any more
      this.tried = { change, whole: whole || Boolean(this.tried && this.tried.whole) };
      return this.run();
    },

    async run() {
      if (this.busy) return;
      this.busy = true;
      try {
        while (this.edits.length || this.tried) {
          const keep = this.edits.length > 0;
          // What got no answer goes again just as it was: the program then knows it if it was saved after all.
          const unanswered = this.edits.filter((c) => c.sent);
          const tried = keep || !this.tried.change ? [] : [this.tried.change];
          const changes = !keep ? tried : unanswered.length ? unanswered : [...this.edits];
          const whole = !keep && this.tried.whole;
          if (!keep) this.tried = null;
          changes.forEach((c) => { c.sent = true; });
          const answered = await this.send(changes, keep, whole);
          if (!answered) { // nobody confirmed it: the edits stay, and go again by themselves
            if (keep) this.again();
            break;
          }
          if (keep) this.edits = this.edits.filter((c) => !changes.includes(c));
          this.pauses = 0;
          this.standing();
        }
      } finally {
        this.busy = false;
      }
    },

    again() {
      clearTimeout(this.retry);
      this.retry = setTimeout(() => this.run(), Math.min(1000 * 2 ** this.pauses, 10000));
      this.pauses += 1;
      this.standing();
    },

    // True where the program answered, be it with a refusal; false where it did not, or broke down over it.
    async send(changes, keep, whole) {
      const seq = ++this.seq;
      const plain = changes.map(({ sent, latest, ...change }) => change);
      const body = JSON.stringify({ on: this.snapshot, seq, changes: plain, ask: this.questions(), keep, whole });
      let answer, data;
      try {
        answer = await fetch(`${this.base}/${this.stage}/look`, { method: "POST", headers: { "content-type": "application/json", accept: "application/json", "x-waits": "1" }, body, keepalive: document.visibilityState === "hidden" });
        data = await answer.json();
        if (answer.status === 202) {
          answer = await this.waited(data.waiting, !keep);
          data = await answer.json();
          if (answer.status === 409 && !keep) return true; // stopped, or overtaken by a newer question
        }
      } catch {
        this.onTrouble("The program does not answer. What you typed is kept here and is sent again by itself; leave this page open.");
        return false;
      }
      if (answer.status >= 500) {
        this.onTrouble(`${data.message || "That was not done."} What you typed is kept here and is sent again by itself.`);
        return false;
      }
      if (!answer.ok) {
        this.onTrouble(data.message || "That was not done.");
        if (keep) changes.forEach((c) => this.refused.add(c.path));
        return true;
      }
      this.onTrouble("");
      if (data.seq < this.shown) return true;
      this.shown = data.seq;
      if (keep) changes.forEach((c) => this.refused[data.errors[c.path] && c.action === "set" ? "add" : "delete"](c.path));
      if (data.parts.form) this.refused.clear(); // the form stands as the program has it
      this.snapshot = data.snapshot;
      if (keep || !changes.some((c) => c.action === "set")) { // a size being typed is not judged yet
        this.errors(changes, data.errors);
        this.fields(data.fields);
        Object.entries(data.says || {}).forEach(([key, text]) => document.querySelectorAll(`[data-say="${CSS.escape(key)}"]`).forEach((el) => { el.textContent = text; }));
      }
      if (keep || !this.edits.length) this.swap(data.parts);
      document.dispatchEvent(new CustomEvent("yk:shown", { detail: { kept: keep } }));
      return true;
    },

    // An answer that takes long: how far it is, until it is there.
    async waited(token, look) {
      this.pending = { token, look };
      const events = new EventSource(`/waiting/${token}/events`);
      events.onmessage = (event) => {
        const now = JSON.parse(event.data);
        const share = now.share === null ? "" : `, ${Math.round(100 * now.share)} % done`;
        this.onWait(`Being worked out${now.words ? `: ${now.words}` : ""}, ${now.seconds.toFixed(0)} s${share}.`);
      };
      try {
        await new Promise((done) => { events.addEventListener("end", done); events.onerror = done; });
        return await fetch(`/waiting/${token}/answer`, { headers: { accept: "application/json" } });
      } finally {
        events.close();
        this.pending = null;
        this.onWait("");
      }
    },

    stop() {
      if (this.pending) fetch(`/waiting/${this.pending.token}/stop`, { method: "POST" });
    },

    errors(changes, errors) {
      changes.forEach((c) => {
        const sentence = errors[c.path] || "";
        const input = document.querySelector(`[data-path="${CSS.escape(c.path)}"]`);
        const place = document.querySelector(`[data-error-for="${CSS.escape(c.path)}"]`);
        if (place) place.textContent = sentence;
        else if (sentence) this.onTrouble(sentence);
        if (input) input.toggleAttribute("aria-invalid", Boolean(sentence));
      });
    },

    fields(fields) {
      Object.entries(fields).forEach(([path, text]) => {
        if (this.refused.has(path)) return; // what was typed stays there until it is mended
        const input = document.querySelector(`[data-path="${CSS.escape(path)}"]`);
        if (input && input.type === "text" && document.activeElement !== input) input.value = text;
      });
    },

    swap(parts) {
      const at = focusKey();
      Object.entries(parts).forEach(([name, html]) => {
        const place = document.querySelector(`[data-part="${name}"]`);
        if (place && place === pressed) later.set(place, html); // drawn anew now, the click that is under way would be lost
        else if (place) place.innerHTML = html;
      });
      restoreFocus(at);
      this.standing();
    },

    async step(which) {
      document.dispatchEvent(new Event("yk:flush")); // steps of the keys not kept yet are kept first
      await this.idle();
      if (this.edits.length) { this.onTrouble("What you typed is not saved yet; it goes first."); return; }
      const answer = await fetch(`${this.base}/${which}`, { method: "POST", headers: { "content-type": "application/json", accept: "application/json" }, body: JSON.stringify({ on: this.snapshot }) });
      if (answer.ok) { leaving(); location.reload(); }
      else this.onTrouble((await answer.json()).message);
    },

    async idle() {
      while (this.busy) await new Promise((done) => setTimeout(done, 15));
    },
  };

  // What is asked on a page stands in its address: reload, back, a second window and a link return there.
  function address(name, value, step) {
    const url = new URL(location);
    if (value) url.searchParams.set(name, value);
    else url.searchParams.delete(name);
    if (url.href !== location.href) history[step ? "pushState" : "replaceState"](null, "", url);
  }
  window.addEventListener("popstate", () => location.reload());

  // Where the focus was and how far the page was scrolled, kept over a reload of the same page.
  function leaving() {
    sessionStorage.setItem("yk:at", JSON.stringify({ path: location.pathname, key: focusKey().key, y: window.scrollY }));
  }
  function returned() {
    const kept = sessionStorage.getItem("yk:at");
    sessionStorage.removeItem("yk:at");
    const at = kept ? JSON.parse(kept) : null;
    if (!at || at.path !== location.pathname) return;
    window.scrollTo(0, at.y);
    const el = at.key && document.querySelector(at.key);
    if (el && !el.disabled) el.focus({ preventScroll: true });
    else if (el) (el.parentElement.querySelector("button:not([disabled])") || document.getElementById("main")).focus({ preventScroll: true });
  }
  document.addEventListener("submit", (event) => {
    const ask = event.target.querySelector("[data-asked]");
    if (ask) { ask.value = location.search; leaving(); }
  }, true);

  // The part whose link or button is pressed, and what it will show once it was let go.
  let pressed = null;
  const later = new Map();
  document.addEventListener("pointerdown", (event) => {
    const on = event.target.closest && event.target.closest("a, button");
    pressed = on ? on.closest("[data-part]") : null;
  }, true);
  ["pointerup", "pointercancel"].forEach((name) => document.addEventListener(name, () => setTimeout(() => {
    pressed = null;
    later.forEach((html, place) => { place.innerHTML = html; });
    later.clear();
  }), true));

  // How the thing that has the focus is found again after its part was drawn anew.
  const KEYS = ["path", "ask", "step", "add", "pick"];
  function keyOf(el) {
    const { weight, side } = el.dataset;
    if (weight !== undefined) return `[data-weight="${weight}"][data-side="${side}"]`;
    const key = KEYS.find((name) => el.dataset[name]);
    if (key) return `[data-${key}="${CSS.escape(el.dataset[key])}"]`;
    if (el.dataset.do) return `[data-do="${CSS.escape(el.dataset.do)}"]${el.dataset.args ? `[data-args="${CSS.escape(el.dataset.args)}"]` : ""}`;
    return el.id ? `#${CSS.escape(el.id)}` : "";
  }
  function focusKey() {
    const el = document.activeElement;
    const key = el && el.dataset ? keyOf(el) : "";
    const typed = el && el.type === "text" && key ? { value: el.value, from: el.selectionStart, to: el.selectionEnd } : null;
    return { key, typed, el };
  }
  function restoreFocus({ key, typed, el }) {
    if (!key || (el && el.isConnected)) return;
    const now = document.querySelector(key);
    if (!now) return;
    if (typed && now.type === "text" && now.dataset.path) { now.value = typed.value; }
    now.focus({ preventScroll: true });
    if (typed && now.setSelectionRange && now.type === "text") now.setSelectionRange(typed.from, typed.to);
  }

  // A link waits for what is being saved, so that the next page shows it and its first edit is made on it.
  let held = null; // a second click leaves all the same, and the browser asks
  document.addEventListener("click", async (event) => {
    const link = event.target.closest && event.target.closest("a[href]");
    if (!link || event.defaultPrevented || event.button || event.metaKey || event.ctrlKey || event.shiftKey || link.target || link.hash) return;
    if (!work.edits.length || held === link) return;
    event.preventDefault();
    await work.idle();
    if (!work.edits.length) link.click();
    else { held = link; work.onTrouble("What you typed is not saved yet; it is sent again by itself. Click once more to leave it."); }
  });

  window.YareKeel = work;
  window.addEventListener("beforeunload", (event) => { if (work.edits.length) event.preventDefault(); });
  ["online", "focus"].forEach((name) => window.addEventListener(name, () => { if (work.edits.length) work.run(); }));

  document.addEventListener("alpine:init", () => {
    Alpine.data("bench", () => ({
      trouble: "", waiting: "", pause: 0,
      stop() { work.stop(); },
      init() {
        const el = this.$root;
        work.base = el.dataset.base;
        work.stage = el.dataset.stage;
        work.snapshot = Number(el.dataset.snapshot);
        work.sealed = el.dataset.sealed !== undefined;
        el.dataset.ready = "";
        const rung = document.querySelector(".rung.is-current");
        if (rung) rung.parentElement.parentElement.scrollLeft = rung.offsetLeft - rung.parentElement.offsetLeft - 60; // on a phone the ladder lies down
        returned();
        work.onTrouble = (sentence) => { this.trouble = sentence; };
        work.onWait = (sentence) => { this.waiting = sentence; };
        el.addEventListener("input", (event) => {
          if (event.target.dataset.eager !== undefined) work.look(null);
          else this.typing(event.target);
        });
        document.querySelector(".band").addEventListener("click", (event) => this.clicked(event));
      },
      // A size is drawn as it stands once the typing pauses; it is kept, and judged, when the field is left.
      typing(el) {
        clearTimeout(this.pause);
        if (work.sealed || el.type !== "text" || !el.closest("[data-lit]") || !/\.(shape|at_m|turn_deg|scale)\./.test(el.dataset.path || "")) return;
        this.pause = setTimeout(() => work.look({ action: "set", path: el.dataset.path, text: el.value }), 160);
      },
      changed(event) {
        clearTimeout(this.pause);
        const el = event.target;
        if (el.dataset.path) work.keep({ action: "set", path: el.dataset.path, text: el.type === "checkbox" ? (el.checked ? "on" : "") : el.value });
        else if (el.dataset.tickAll !== undefined) el.closest("table").querySelectorAll("[data-tick]").forEach((box) => { box.checked = el.checked; });
        else if (el.dataset.ask) { first(el); address(el.dataset.ask, el.value, false); work.look(null, el.dataset.whole !== undefined); }
      },
      clicked(event) {
        const el = event.target.closest("button");
        if (!el) return;
        if (el.dataset.add) work.keep({ action: "add", path: el.dataset.add }).then(() => newest(el.dataset.add));
        else if (el.dataset.remove) work.keep({ action: "remove", path: el.dataset.remove });
        else if (el.dataset.step) work.step(el.dataset.step);
        else if (el.dataset.pick) pick(...el.dataset.pick.split(":"));
        else if (el.dataset.do) work.keep({ action: "do", verb: el.dataset.do, path: el.dataset.do, args: given(el) });
      },
      // Touching a thing highlights it everywhere on the page.
      touched(event) {
        const el = event.target.closest("[data-touch]");
        const key = el ? el.dataset.touch : "";
        document.querySelectorAll(".is-touched").forEach((n) => { if (n.dataset.touch !== key) n.classList.remove("is-touched"); });
        if (key) document.querySelectorAll(`[data-touch="${key}"]`).forEach((n) => n.classList.add("is-touched"));
      },
    }));
  });

  // Another search or order starts on its first page.
  function first(el) {
    const page = document.querySelector('[data-ask="page"]');
    if (page && el !== page && el.dataset.whole !== undefined) page.value = "0";
  }

  // What a command is given: what the button says, the lines that are ticked, what stands in a field beside it.
  function given(el) {
    const args = JSON.parse(el.dataset.args || "{}");
    if (el.dataset.ticked !== undefined) args.lines = [...document.querySelectorAll("[data-tick]:checked")].map((box) => Number(box.dataset.tick));
    const from = el.dataset.from && document.querySelector(el.dataset.from);
    if (from) args[el.dataset.as || "text"] = from.value;
    return args;
  }

  // A question answered by a button: which part, which drawing, which tab.
  function pick(name, value) {
    const el = document.querySelector(`[data-ask="${name}"]`);
    if (!el) return;
    el.value = value;
    address(name, value, name === "tab");
    document.querySelectorAll(`[data-pick^="${name}:"]`).forEach((b) => b.setAttribute("aria-pressed", String(b.dataset.pick === `${name}:${value}`)));
    work.look(null, name !== "view");
  }

  // After a line was added its name is next to be typed.
  function newest(what) {
    const names = document.querySelectorAll(`[data-path^="${what}."][data-path$=".name"]`);
    let last = null;
    names.forEach((n) => { if (!last || Number(n.dataset.path.split(".").at(-2)) > Number(last.dataset.path.split(".").at(-2))) last = n; });
    if (last) { last.focus(); last.select(); last.scrollIntoView({ block: "nearest" }); }
  }
})();

// The pond sheet: every entry is kept on this phone first, sent when there is a connection, and once only.
const DATABASE = "yare-keel-pond";
const RETRY = 4000; // milliseconds between two tries to send
const LONGEST_SIDE = 1600; // of a photo, in points

const data = JSON.parse(document.getElementById("pond-data").textContent);

function opened() {
  return new Promise((resolve, reject) => {
    const asked = indexedDB.open(DATABASE, 1);
    asked.onupgradeneeded = () => asked.result.createObjectStore("entries", { keyPath: "key" }).createIndex("sheet", "sheet");
    asked.onsuccess = () => resolve(asked.result);
    asked.onerror = () => reject(asked.error);
  });
}

// Resolves when the disk has it, not when it was asked for.
function done(base, act) {
  return new Promise((resolve, reject) => {
    const step = base.transaction("entries", "readwrite", { durability: "strict" });
    const asked = act(step.objectStore("entries"));
    step.oncomplete = () => resolve(asked.result);
    step.onerror = step.onabort = () => reject(step.error);
  });
}

function newKey() { // crypto.randomUUID is for secure pages only
  return [...crypto.getRandomValues(new Uint8Array(12))].map((b) => b.toString(16).padStart(2, "0")).join("");
}

// Small, upright and rid of what a phone writes into it (where it was taken).
async function small(file) {
  try {
    const picture = await createImageBitmap(file, { imageOrientation: "from-image" });
    const share = Math.min(1, LONGEST_SIDE / Math.max(picture.width, picture.height));
    const canvas = document.createElement("canvas");
    canvas.width = Math.round(picture.width * share);
    canvas.height = Math.round(picture.height * share);
    canvas.getContext("2d").drawImage(picture, 0, 0, canvas.width, canvas.height);
    return await new Promise((resolve, reject) => canvas.toBlob((b) => (b ? resolve(b) : reject(new Error("no picture"))), "image/jpeg", 0.85));
  } catch {
    return null;
  }
}

function asText(blob) {
  return new Promise((resolve) => {
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result.split(",")[1]);
    reader.readAsDataURL(blob);
  });
}

function words(entry) {
  const typed = Object.entries(entry.typed).filter(([, v]) => v);
  if (entry.code === "seen") return data.symptoms[entry.typed.code] || entry.typed.code;
  if (entry.code === "check" || entry.code === "note") return typed.map(([, v]) => v).join(" ");
  return typed.map(([k, v]) => `${(data.labels[`${entry.code}.${k}`] || k).toLowerCase()} ${v}`).join(", ");
}

document.addEventListener("alpine:init", () => {
  Alpine.data("pond", () => ({
    entries: [], online: true, trouble: "", refused: "", isSending: false,
    modeWords: "", rollTime: "0.0 s", runTime: "0.0 s", rollWord: "Start", runWord: "Start",
    hasTilt: false, tiltWords: "", beginning: "", striking: "",

    get waiting() { return this.entries.filter((e) => !e.sent).length; },
    get state() {
      const n = this.waiting;
      if (data.mode === "file") return n ? `${n} to be saved as a file` : "Nothing to save yet";
      if (this.refused) return this.refused;
      if (!this.online) return n ? `No connection: ${n} not sent yet` : "No connection: go on noting";
      if (n) return `${n} not sent yet`;
      return this.entries.length ? "All sent" : "Connected";
    },
    get tone() { return this.waiting || this.refused ? "is-waiting" : this.online ? "is-sent" : "is-offline"; },
    get count() { return this.entries.length ? String(this.entries.length) : ""; },
    get isEmpty() { return this.entries.length === 0; },
    get notRunning() { return this.runWord === "Start"; },
    get shown() {
      const struck = Object.fromEntries(this.entries.filter((e) => e.code === "strike").map((e) => [e.typed.entry, e.typed.reason]));
      return this.entries.filter((e) => e.code !== "strike").map((e) => {
        const reason = struck[e.key] || e.struck || "";
        return {
          key: e.key, title: data.titles[e.code] || e.code, words: words(e), open: !reason,
          problem: reason ? "" : e.problem || "", time: new Date(e.at).toLocaleTimeString(),
          where: reason ? `struck out: ${reason}` : e.other ? "from another phone" : e.sent ? "sent" : data.mode === "file" ? "kept here" : "not sent yet",
          tone: reason ? "is-struck" : e.problem ? "is-wrong" : e.sent ? "is-sent" : "is-waiting",
        };
      }).reverse();
    },

    async init() {
      this.online = navigator.onLine;
      try {
        this.base = await opened();
        await this.reload();
      } catch {
        this.trouble = "This browser keeps nothing here (a private window?): what you note is lost with the tab.";
      }
      this.join(data.entries);
      this.typed = JSON.parse(localStorage.getItem(`pond:${data.code}`) || "{}");
      for (const [id, value] of Object.entries(this.typed)) { const el = document.getElementById(id); if (el) el.value = value; }
      this.pressed();
      await this.settle();
      window.addEventListener("online", () => { this.online = true; this.send(); });
      window.addEventListener("offline", () => { this.online = false; });
      window.addEventListener("deviceorientation", (event) => { if (event.gamma !== null) { this.hasTilt = true; this.tilt = event; } });
      if (data.mode !== "file") {
        setInterval(() => this.send(), RETRY);
        this.send();
      }
    },

    // Which of the three ways this page lives in, and what is done so that it opens again without a connection.
    async settle() {
      if (data.mode === "file") {
        this.modeWords = "A sheet of one file: it needs no network. Save its readings as a file, and bring that in at the bench.";
      } else if (window.isSecureContext && "serviceWorker" in navigator) {
        this.modeWords = "Getting ready to open without a connection…";
        try {
          await navigator.serviceWorker.register("/pond/worker.js", { scope: "/pond/" });
          await navigator.serviceWorker.ready;
          const mine = performance.getEntriesByType("resource").map((r) => r.name).filter((n) => n.startsWith(`${location.origin}/static/`));
          const kept = await caches.open("pond-sheets");
          await kept.addAll([...new Set([location.href.split("#")[0], ...mine])]).catch(() => 0);
          this.modeWords = "Opens without a connection from now on. What you note is kept on this phone and sent later.";
        } catch {
          this.modeWords = "This browser could not keep the page: leave the tab open. What you note is kept on this phone and sent later.";
        }
      } else {
        this.modeWords = "Plain connection: leave this tab open, it goes on without one. What you note is kept on this phone and sent when it is reached again.";
      }
    },

    async reload() {
      const rows = await done(this.base, (all) => all.index("sheet").getAll(data.code));
      this.entries = rows.sort((a, b) => a.at.localeCompare(b.at));
    },

    join(theirs) {
      const known = new Map(this.entries.map((e) => [e.key, e]));
      for (const one of theirs) {
        const mine = known.get(one.key);
        if (mine) Object.assign(mine, { sent: true, problem: one.problem, struck: one.struck });
        else this.entries.push({ ...one, sheet: data.code, sent: true, other: true });
      }
      this.entries.sort((a, b) => a.at.localeCompare(b.at));
    },

    async keep(code, typed, photo) {
      const entry = { key: newKey(), sheet: data.code, code, at: new Date().toISOString(), typed, photo, sent: false, problem: "" };
      if (this.base) await done(this.base, (all) => all.put(entry));
      this.entries.push(entry);
      this.pressed();
      this.send();
    },

    typing(event) {
      if (!event.target.id || event.target.type === "file") return;
      this.typed[event.target.id] = event.target.value;
      localStorage.setItem(`pond:${data.code}`, JSON.stringify(this.typed));
    },

    async noted(event) {
      const form = event.target, wrong = form.querySelector(".field-error"), typed = {};
      let photo = null;
      wrong.textContent = "";
      for (const el of form.querySelectorAll("input[name]:not([type=file]), select[name], textarea[name]")) typed[el.name] = el.value.trim();
      const chosen = form.querySelector("input[type=file]");
      if (chosen) {
        const isTrack = form.dataset.code === "track";
        if (!chosen.files.length) { wrong.textContent = isTrack ? "Choose the track's file first." : "Choose or take a picture first."; return; }
        photo = isTrack ? new Blob([await chosen.files[0].arrayBuffer()]) : await small(chosen.files[0]);
        if (!photo) { wrong.textContent = "That is not a picture this phone reads; choose a JPEG or PNG."; return; }
        if (isTrack) typed.name = chosen.files[0].name;
        chosen.value = "";
      } else if (![...form.querySelectorAll("input[name], textarea[name]")].some((el) => el.value.trim() && el.value !== el.dataset.first)) {
        if (!form.querySelector("select") || form.dataset.code === "heel") { wrong.textContent = "Nothing was filled in."; return; }
      }
      try {
        await this.keep(form.dataset.code, typed, photo);
      } catch {
        wrong.textContent = "This phone could not keep it (no room left?). It is still in the form.";
        return;
      }
      for (const el of form.querySelectorAll("input[name]:not([type=file]), textarea[name]")) { el.value = el.dataset.first || ""; delete this.typed[el.id]; }
      localStorage.setItem(`pond:${data.code}`, JSON.stringify(this.typed));
    },

    async tap(event) {
      const { code, field, value } = event.currentTarget.dataset;
      const before = this.entries.find((e) => e.code === code && e.typed[field] === value && !this.gone(e.key));
      if (before && code !== "rating") await this.keep("strike", { entry: before.key, reason: "tapped again" }, null);
      else if (!before) {
        for (const e of this.entries.filter((one) => code === "rating" && one.code === code && !this.gone(one.key)))
          await this.keep("strike", { entry: e.key, reason: "rated again" }, null);
        await this.keep(code, { [field]: value }, null);
      }
    },

    gone(key) { return this.entries.some((e) => (e.code === "strike" && e.typed.entry === key) || (e.key === key && e.struck)); },

    pressed() {
      for (const el of document.querySelectorAll(".pond-tap")) {
        const { code, field, value } = el.dataset;
        el.setAttribute("aria-pressed", String(this.entries.some((e) => e.code === code && e.typed[field] === value && !this.gone(e.key))));
      }
    },

    strike(event) {
      this.striking = event.currentTarget.dataset.key;
      this.$refs.reason.value = "";
      this.$refs.why.showModal();
    },
    letBe() { this.$refs.why.close(); },
    struck() { this.keep("strike", { entry: this.striking, reason: this.$refs.reason.value.trim() }, null); },

    sendNow() {
      this.refused = "";
      this.entries.forEach((e) => { e.stuck = false; });
      this.send();
    },

    async send() {
      if (this.isSending || data.mode === "file") return;
      this.isSending = true;
      try {
        for (const entry of this.entries.filter((e) => !e.sent && !e.stuck)) {
          const body = new FormData();
          const { key, code, at, typed } = entry;
          body.set("entry", JSON.stringify({ key, code, at, typed }));
          if (entry.photo) body.set("file", entry.photo, entry.code === "track" ? entry.typed.name : "photo.jpg");
          const answer = await fetch(`/pond/${data.code}/entries`, { method: "POST", body, headers: { accept: "application/json" } });
          this.online = true;
          if (!answer.ok) {
            const said = await answer.json().catch(() => ({}));
            if (answer.status !== 422) { this.refused = `${this.waiting} not sent: ${said.message || "not now"}`; return; }
            Object.assign(entry, { problem: said.message, stuck: true }); // this one alone is in the way: it stays here, the others go on
            continue;
          }
          entry.problem = (await answer.json()).entry.problem;
          entry.sent = true;
          if (this.base) await done(this.base, (all) => all.put({ ...JSON.parse(JSON.stringify({ ...entry, photo: null })), photo: null }));
          this.refused = "";
        }
        if (!this.entries.length || Date.now() - (this.asked || 0) > 3 * RETRY) {
          const answer = await fetch(`/pond/${data.code}/entries`, { headers: { accept: "application/json" } });
          this.asked = Date.now();
          if (answer.ok) { this.join((await answer.json()).entries); this.pressed(); }
          this.online = true;
        }
      } catch {
        this.online = false;
      } finally {
        this.isSending = false;
      }
    },

    rollWatch() {
      if (this.rollWord === "Start") {
        const from = performance.now();
        this.rollWord = "Stop";
        this.rolling = setInterval(() => { this.rollTime = `${((performance.now() - from) / 1000).toFixed(1)} s`; }, 100);
        this.rollFrom = from;
      } else {
        clearInterval(this.rolling);
        this.rollWord = "Start";
        this.rollTime = `${((performance.now() - this.rollFrom) / 1000).toFixed(1)} s`;
        document.getElementById("rolls-time").value = this.rollTime;
      }
    },

    runWatch() {
      if (this.runWord === "Start") {
        this.runWord = "Stop";
        this.runFrom = this.lapFrom = performance.now();
        this.running = setInterval(() => { this.runTime = `${((performance.now() - this.lapFrom) / 1000).toFixed(1)} s`; }, 100);
      } else {
        clearInterval(this.running);
        this.lap();
        this.runWord = "Start";
      }
    },
    lap() {
      const now = performance.now(), time = `${((now - this.lapFrom) / 1000).toFixed(2)} s`;
      this.lapFrom = now;
      this.runTime = time;
      document.getElementById("run-time").value = time;
      const distance = document.getElementById("run-distance").value.trim(), throttle = document.getElementById("run-throttle").value.trim();
      if (distance) this.keep("run", { throttle, distance, time }, null);
    },

    // Three seconds of the phone's own sensor, laid flat across the boat.
    readTilt() {
      const seen = [];
      this.tiltWords = "Hold still…";
      const reading = setInterval(() => { if (this.tilt) seen.push(this.tilt.gamma); }, 50);
      setTimeout(() => {
        clearInterval(reading);
        if (!seen.length) { this.tiltWords = "The sensor gave nothing."; return; }
        const mean = seen.reduce((a, b) => a + b, 0) / seen.length;
        const off = Math.sqrt(seen.reduce((a, b) => a + (b - mean) ** 2, 0) / seen.length);
        document.getElementById("heel-heel").value = `${Math.abs(mean).toFixed(1)}`;
        document.getElementById("heel-side").value = mean < 0 ? "port" : "starboard";
        this.tiltWords = `${Math.abs(mean).toFixed(1)}° to ${mean < 0 ? "port" : "starboard"}, moved by ${off.toFixed(1)}° meanwhile`;
      }, 3000);
    },

    async save() {
      const entries = [];
      for (const e of this.entries) {
        const { key, code, at, typed } = e;
        entries.push({ key, code, at, typed, photo: e.photo ? await asText(e.photo) : null });
      }
      const text = JSON.stringify({ format: "yare-keel-sheet", version: 1, sheet: data.code, entries }, null, 1);
      const link = document.createElement("a");
      link.href = URL.createObjectURL(new Blob([text], { type: "application/json" }));
      link.download = `readings-${data.code}.json`;
      link.click();
    },
  }));
});

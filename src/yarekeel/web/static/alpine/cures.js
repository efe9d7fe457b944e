// Rows that come over the line as they are solved, each a row of a table: cures, and fixes. Closing the line stops it.
(() => {
  function solving(end) {
    return {
      running: false, done: 0, of: 1, words: "", line: null,
      begin(url, count) {
        this.close();
        this.running = true; this.done = 0; this.of = count; this.words = ""; this.rows().innerHTML = "";
        this.line = new EventSource(url);
        this.line.addEventListener("message", (event) => {
          const data = JSON.parse(event.data);
          this.done = data.done; this.of = data.of; this.words = `${data.done} of ${data.of} solved.`;
          this.rows().insertAdjacentHTML("beforeend", data.row);
          this.placed();
        });
        this.line.addEventListener("found", () => { this.close(); this.again(); });
        this.line.addEventListener("end", () => { this.words = end; this.close(); });
        this.line.addEventListener("error", () => { if (this.running) { this.words = "The program does not answer; start it again and press the button once more."; this.close(); } });
      },
      placed() {},
      again() {},
      stop() { this.words = `Stopped at ${this.done} of ${this.of}.`; this.close(); },
      close() { if (this.line) this.line.close(); this.line = null; this.running = false; },
      destroy() { this.close(); },
    };
  }

  document.addEventListener("alpine:init", () => {
    Alpine.data("cures", () => ({
      ...solving("Each is built, floated and put to the tests as a boat of its own."),
      init() { this.start(); },
      rows() { return this.$root.querySelector(".cure-rows"); },
      start() { this.begin(this.$root.dataset.url, Number(this.$root.dataset.count)); },
    }));

    // A long life: its figures are worked out over the line, then stand in place of what is not known yet.
    Alpine.data("life", () => ({
      running: false, done: 0, of: 1, words: "", line: null,
      init() {
        if (!this.$root.dataset.url) return;
        this.running = true;
        this.line = new EventSource(this.$root.dataset.url);
        this.line.addEventListener("message", (event) => {
          const data = JSON.parse(event.data);
          this.done = data.done; this.of = data.of; this.words = `${data.done} of ${data.of} worked out.`;
        });
        this.line.addEventListener("end", (event) => { this.$refs.life.innerHTML = JSON.parse(event.data).html; this.stop(); });
        this.line.addEventListener("error", () => this.stop());
      },
      stop() { if (this.line) this.line.close(); this.line = null; this.running = false; },
      destroy() { this.stop(); },
    }));

    Alpine.data("fixes", () => ({
      ...solving("Each is built and floated as a boat of its own."),
      ticked: [], most: 3,
      init() {
        this.most = Number(this.$root.dataset.most);
        this.$root.addEventListener("change", (event) => { if (event.target.dataset.join) this.tick(); });
        this.begin(this.$root.dataset.url, Number(this.$root.dataset.count));
      },
      rows() { return this.$root.querySelector(".fix-rows"); },
      // The causes are known now: the page is drawn with them.
      again() { document.querySelector('[data-ask="found"]').value = "1"; window.YareKeel.look(null); },
      asked(name) { return this.$root.querySelector(`[data-ask="${name}"]`); },
      // More is better; what has no answer stays below.
      placed() {
        const order = this.asked("order").value;
        if (!order) return;
        const key = (row) => { const value = JSON.parse(row.dataset.keys || "{}")[order]; return value === undefined || value === null ? -Infinity : value; };
        [...this.rows().children].sort((a, b) => key(b) - key(a)).forEach((row) => this.rows().appendChild(row));
      },
      tick() { this.ticked = [...this.$root.querySelectorAll("[data-join]:checked")].map((box) => box.dataset.join); },
      ask(name, value) {
        const el = this.asked(name);
        el.value = value;
        el.dispatchEvent(new Event("change", { bubbles: true }));
      },
      join() { this.ask("join", this.ticked.join("+")); },
      also(select) { if (select.value) this.ask("also", [...this.asked("also").value.split(",").filter(Boolean), select.value].join(",")); },
      cannot() { this.ask("cannot", [...this.$root.querySelectorAll("[data-cannot]:checked")].map((box) => box.dataset.cannot).join(",")); },
    }));
  });
})();

// Cures: each comes over the line as it is solved and is a row of the table; closing the line stops it.
document.addEventListener("alpine:init", () => {
  Alpine.data("cures", () => ({
    running: false, done: 0, of: 7, words: "", line: null,
    init() { this.of = Number(this.$root.dataset.count); this.start(); },
    rows() { return this.$root.querySelector(".cure-rows"); },
    start() {
      this.close();
      this.running = true; this.done = 0; this.words = ""; this.rows().innerHTML = "";
      this.line = new EventSource(this.$root.dataset.url);
      this.line.addEventListener("message", (event) => {
        const data = JSON.parse(event.data);
        this.done = data.done; this.of = data.of; this.words = `${data.done} of ${data.of} solved.`;
        this.rows().insertAdjacentHTML("beforeend", data.row);
      });
      this.line.addEventListener("end", () => { this.words = "Each is built, floated and put to the tests as a boat of its own."; this.close(); });
      this.line.addEventListener("error", () => { if (this.running) { this.words = "The program does not answer; start it again and press the button once more."; this.close(); } });
    },
    stop() { this.words = `Stopped at ${this.done} of ${this.of}.`; this.close(); },
    close() { if (this.line) this.line.close(); this.line = null; this.running = false; },
    destroy() { this.close(); },
  }));
});

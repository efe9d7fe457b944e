// Floating many boats: how far it is comes over the line as it goes; closing the line stops it.
document.addEventListener("alpine:init", () => {
  Alpine.data("check", () => ({
    running: false, done: 0, words: "", rows: [], line: null,
    start() {
      this.running = true; this.done = 0; this.words = ""; this.rows = [];
      this.line = new EventSource(this.$root.dataset.url);
      this.line.addEventListener("message", (event) => { this.done = JSON.parse(event.data).done; this.words = `${this.done} of 500 floated.`; });
      this.line.addEventListener("end", (event) => {
        const data = JSON.parse(event.data);
        this.done = data.done; this.words = data.words; this.rows = data.rows || [];
        this.close();
      });
      this.line.addEventListener("error", () => { if (this.running) { this.words = "The program does not answer; start it again and press the button once more."; this.close(); } });
    },
    stop() { this.words = `Stopped at ${this.done} of 500.`; this.close(); },
    close() { if (this.line) this.line.close(); this.line = null; this.running = false; },
    destroy() { this.close(); },
  }));
});

// The value under the pointer on any chart that carries its words.
document.addEventListener("pointermove", (event) => {
  const svg = event.target.closest && event.target.closest("svg[data-read]");
  if (!svg) return;
  const places = JSON.parse(svg.dataset.read);
  if (!places.length) return;
  const box = svg.getBoundingClientRect();
  const x = (event.clientX - box.left) / box.width * svg.viewBox.baseVal.width;
  const [at, words] = places.reduce((a, b) => (Math.abs(b[0] - x) < Math.abs(a[0] - x) ? b : a));
  const line = svg.querySelector(".cursor"), said = svg.querySelector(".plot-read");
  line.setAttribute("x1", at); line.setAttribute("x2", at);
  said.textContent = words;
  svg.classList.add("has-cursor");
});

// The size map: drawn on demand, row by row; a point of it, by pointer or arrow keys, is a boat that is shown at once.
document.addEventListener("alpine:init", () => {
  Alpine.data("sizemap", () => ({
    running: false, done: 0, of: 40, words: "", line: null,
    start() {
      this.running = true; this.done = 0; this.words = "";
      this.line = new EventSource(this.$root.dataset.url);
      this.line.addEventListener("message", (event) => { const d = JSON.parse(event.data); this.done = d.done; this.of = d.of; this.words = `${d.done} of ${d.of} rows.`; });
      this.line.addEventListener("end", (event) => {
        this.place().innerHTML = JSON.parse(event.data).svg;
        this.words = "Point at it, or use the arrow keys on it: the boat there is shown above.";
        this.close();
      });
      this.line.addEventListener("error", () => { if (this.running) { this.words = "The program does not answer; start it again and press the button once more."; this.close(); } });
    },
    stop() { this.words = `Stopped at ${this.done} of ${this.of} rows.`; this.close(); },
    close() { if (this.line) this.line.close(); this.line = null; this.running = false; },
    destroy() { this.close(); },
    place() { return this.$root.querySelector(".map-place"); },
    svg() { return this.place().querySelector("svg"); },
    pick(event) {
      const svg = this.svg();
      if (!svg) return;
      const box = svg.getBoundingClientRect(), view = svg.viewBox.baseVal;
      this.go(svg, (event.clientX - box.left) / box.width * view.width, (event.clientY - box.top) / box.height * view.height);
    },
    key(event) {
      const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
      const svg = this.svg();
      if (!way || !svg) return;
      event.preventDefault();
      const point = svg.querySelector(".map-point"), [, , wide, tall] = svg.dataset.frame.split(",").map(Number), steps = Number(svg.dataset.steps);
      this.go(svg, Number(point.getAttribute("cx")) + way[0] * wide / steps, Number(point.getAttribute("cy")) + way[1] * tall / steps);
    },
    go(svg, px, py) {
      const [left, top, wide, tall] = svg.dataset.frame.split(",").map(Number);
      const within = (v) => Math.min(1, Math.max(0, v));
      const sx = within((px - left) / wide), sy = within((top + tall - py) / tall);
      const at = (text, share) => { const [a, b] = text.split(",").map(Number); return a + share * (b - a); };
      const point = svg.querySelector(".map-point");
      point.setAttribute("cx", left + sx * wide); point.setAttribute("cy", top + tall - sy * tall);
      document.querySelector('[data-ask="mx"]').value = String(at(svg.dataset.x, sx));
      document.querySelector('[data-ask="my"]').value = String(at(svg.dataset.y, sy));
      window.YareKeel.look(null);
    },
  }));
});

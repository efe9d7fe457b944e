// Dragging a weight in the tank with the pointer, and its twin with the keys. The boat is solved again at every step.
document.addEventListener("alpine:init", () => {
  const work = window.YareKeel;
  const WIDTH = 784;

  Alpine.data("tank", () => ({
    drag: null, pending: null, timer: 0,

    take(el) {
      const svg = el.closest("svg");
      return {
        line: el.dataset.weight, side: el.dataset.side,
        at: el.dataset.at.split(",").map(Number),
        metre: Number(svg.dataset.scale) * svg.clientWidth / WIDTH,
        heel: Number(svg.dataset.heel), trim: Number(svg.dataset.trim),
      };
    },

    down(event) {
      const el = event.target.closest("[data-weight]");
      if (!el || work.sealed || event.button !== 0) return;
      this.flush();
      this.drag = { ...this.take(el), x: event.clientX, y: event.clientY, moved: false };
      this.$root.setPointerCapture(event.pointerId);
      el.focus({ preventScroll: true });
      event.preventDefault();
    },

    // A pull on the page becomes a move in the boat's own axes, turned back by its trim or heel.
    moved(d, right, up) {
      const [x, y, z] = d.at;
      if (d.side === "starboard") {
        const c = Math.cos(d.trim), s = Math.sin(d.trim);
        return [x + right * c + up * s, y, z - right * s + up * c];
      }
      const c = Math.cos(d.heel), s = Math.sin(d.heel);
      return [x, y - right * c + up * s, z + right * s + up * c];
    },

    move(event) {
      const d = this.drag;
      if (!d) return;
      const right = (event.clientX - d.x) / d.metre, up = (d.y - event.clientY) / d.metre;
      if (!d.moved && Math.hypot(event.clientX - d.x, event.clientY - d.y) < 2) return;
      d.moved = true;
      d.to = this.moved(d, right, up);
      work.look(work.placing(d.line, d.to));
    },

    up() {
      const d = this.drag;
      this.drag = null;
      if (d && d.moved) work.keep(work.placing(d.line, d.to));
    },

    cancel() {
      if (this.drag && this.drag.moved) work.look(null);
      this.drag = null;
    },

    key(event) {
      if (event.key === "Escape") { this.cancel(); return; }
      const el = event.target.closest("[data-weight]");
      if (!el || work.sealed) return;
      const step = event.shiftKey ? 0.01 : 0.001;
      const across = el.dataset.side === "astern";
      const by = { ArrowLeft: across ? [0, step, 0] : [-step, 0, 0], ArrowRight: across ? [0, -step, 0] : [step, 0, 0], ArrowUp: [0, 0, step], ArrowDown: [0, 0, -step], PageUp: [0, step, 0], PageDown: [0, -step, 0] }[event.key];
      if (!by) return;
      event.preventDefault();
      const line = el.dataset.weight;
      if (!this.pending || this.pending.line !== line) { this.flush(); this.pending = { line, place: el.dataset.at.split(",").map(Number) }; }
      this.pending.place = this.pending.place.map((v, k) => v + by[k]);
      work.look(work.placing(line, this.pending.place));
      clearTimeout(this.timer);
      this.timer = setTimeout(() => this.flush(), 600);
    },

    // Steps made with the keys are kept together once they pause, or when the weight is left.
    flush() {
      clearTimeout(this.timer);
      if (!this.pending) return;
      const { line, place } = this.pending;
      this.pending = null;
      work.keep(work.placing(line, place));
    },
    settle(event) {
      const to = event.relatedTarget && event.relatedTarget.closest("[data-weight]");
      // A redraw puts the focus back on the same weight; only leaving it for another thing ends the steps.
      if (event.relatedTarget && (!to || to.dataset.weight !== event.target.dataset.weight)) this.flush();
    },
    init() {
      window.addEventListener("pagehide", () => this.flush());
      document.addEventListener("yk:flush", () => this.flush());
    },
  }));
});

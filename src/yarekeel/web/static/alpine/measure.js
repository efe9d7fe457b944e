// Marks on a photo, by pointer or by keys; what they say comes from the server.
document.addEventListener("alpine:init", () => {
  Alpine.data("measure", () => ({
    words: "", trouble: "", isWrong: true, held: null, asked: 0,

    init() {
      this.$root.querySelectorAll(".marking-mark").forEach((mark) => this.place(mark, Number(mark.dataset.x), Number(mark.dataset.y)));
      this.ask();
    },

    place(mark, x, y) {
      const box = this.$refs.picture.viewBox.baseVal;
      mark.dataset.x = Math.min(box.width, Math.max(0, x)).toFixed(1);
      mark.dataset.y = Math.min(box.height, Math.max(0, y)).toFixed(1);
      mark.setAttribute("transform", `translate(${mark.dataset.x} ${mark.dataset.y})`);
      const [one, two] = this.$root.querySelectorAll("[data-water]");
      for (const [name, value] of [["x1", one.dataset.x], ["y1", one.dataset.y], ["x2", two.dataset.x], ["y2", two.dataset.y]])
        this.$refs.water.setAttribute(name, value);
    },

    at(event) {
      const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(this.$refs.picture.getScreenCTM().inverse());
      return [point.x, point.y];
    },
    taken(event) {
      this.held = event.currentTarget;
      this.$refs.picture.setPointerCapture(event.pointerId);
      this.held.focus();
      event.preventDefault();
    },
    dragged(event) {
      if (!this.held) return;
      this.place(this.held, ...this.at(event));
      this.ask();
    },
    dropped() { this.held = null; },
    nudged(event) {
      const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
      if (!way) return;
      event.preventDefault();
      const mark = event.currentTarget, by = event.shiftKey ? 10 : 1;
      this.place(mark, Number(mark.dataset.x) + by * way[0], Number(mark.dataset.y) + by * way[1]);
      this.ask();
    },

    body() {
      const four = this.$refs.four.checked, value = (name, mark) => this.$root.querySelector(`[data-${name}="${mark.dataset.mark}"]`).value;
      const marks = [...this.$root.querySelectorAll("[data-mark]")].slice(0, four ? 4 : 2);
      this.$root.querySelectorAll('[data-mark="C"], [data-mark="D"], [data-row="C"], [data-row="D"]').forEach((el) => { el.style.display = four ? "" : "none"; });
      return JSON.stringify({
        look: this.$refs.look.value,
        marks: marks.map((m) => ({ x: Number(m.dataset.x), y: Number(m.dataset.y), along: value("along", m), up: value("up", m) })),
        water: [...this.$root.querySelectorAll("[data-water]")].map((m) => [Number(m.dataset.x), Number(m.dataset.y)]),
      });
    },
    async send(what) {
      const answer = await fetch(`${this.$root.dataset.baseOf}/${what}`, {
        method: "POST", body: this.body(), headers: { "content-type": "application/json", accept: "application/json" },
      });
      return [answer.ok, await answer.json()];
    },
    async ask() {
      const mine = ++this.asked;
      try {
        const [ok, said] = await this.send("measured");
        if (mine !== this.asked) return; // a later one is on its way
        this.isWrong = !ok;
        this.words = ok ? said.words : "";
        this.trouble = ok ? "" : said.message;
      } catch {
        this.trouble = "The program does not answer; it tries again with the next move.";
      }
    },
    async note() {
      const [ok, said] = await this.send("note");
      if (ok) location.assign(said.back);
      else this.trouble = said.message;
    },
  }));
});

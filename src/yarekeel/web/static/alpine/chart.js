// The value under the pointer on the righting-arm curve: the dot follows, and the boat leans with it to the side it is leaning to.
document.addEventListener("alpine:init", () => {
  Alpine.data("chart", () => ({
    curve(svg) {
      const lean = document.getElementById("lean");
      return JSON.parse(svg.dataset.points)[lean && Number(lean.value) < 0 ? "port" : "starboard"];
    },
    point(event) {
      const svg = this.$root.querySelector("svg[data-points]");
      if (!svg || !svg.contains(event.target)) return;
      const points = this.curve(svg);
      const box = svg.getBoundingClientRect();
      const x = (event.clientX - box.left) / box.width * svg.viewBox.baseVal.width;
      const first = points[0], last = points[points.length - 1];
      const part = Math.min(1, Math.max(0, (x - first[1]) / (last[1] - first[1])));
      const lean = document.getElementById("lean");
      const side = lean && Number(lean.value) < 0 ? -1 : 1;
      const heel = side * Math.max(side < 0 ? 1 : 0, Math.round(first[0] + part * (last[0] - first[0])));
      this.mark(svg, points, Math.abs(heel));
      if (lean && Number(lean.value) !== heel) {
        lean.value = heel;
        window.YareKeel.look(null);
      }
    },
    mark(svg, points, heel) {
      const k = Math.max(1, points.findIndex((p) => p[0] >= heel));
      const [a, b] = [points[k - 1], points[k]];
      const t = (heel - a[0]) / (b[0] - a[0]);
      const x = a[1] + t * (b[1] - a[1]), y = a[2] + t * (b[2] - a[2]);
      const line = svg.querySelector(".cursor"), dot = svg.querySelector(".cursor-dot");
      line.setAttribute("x1", x); line.setAttribute("x2", x);
      dot.setAttribute("cx", x); dot.setAttribute("cy", y);
      svg.classList.add("has-cursor");
    },
    leave() {},
    init() {
      document.addEventListener("yk:shown", () => this.follow());
      this.follow();
    },
    follow() {
      const svg = this.$root.querySelector("svg[data-points]"), lean = document.getElementById("lean");
      if (svg && lean) this.mark(svg, this.curve(svg), Math.abs(Number(lean.value)));
    },
  }));
});

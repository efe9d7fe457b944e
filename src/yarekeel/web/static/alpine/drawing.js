// The lines and the solid of the Shape page: reading under the pointer, stepping through stations, turning the hull.
document.addEventListener("alpine:init", () => {
  const work = window.YareKeel;
  const WIDTH = 784;
  const colour = (name) => getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim();
  const ask = (name) => document.querySelector(`[data-ask="${name}"]`);

  Alpine.data("drawing", () => ({
    turn: { yaw: -0.62, pitch: 0.42, near: 1 }, held: null,

    init() {
      document.addEventListener("yk:shown", () => this.paint());
      // The size in hand lights up what it moves.
      document.addEventListener("focusin", (event) => {
        const el = event.target;
        const path = el.closest && el.closest("[data-lit]") && /\.shape\.\w+$/.test(el.dataset.path || "") ? el.dataset.path : "";
        const lit = ask("lit");
        if (lit && (path || (el.closest && el.closest("[data-lit]"))) && lit.value !== path) { lit.value = path; ask("ghost").value = path ? "on" : ""; work.look(null); }
      });
      // Once a new size is in, the hull itself shows what it did.
      ["input", "change"].forEach((kind) => document.addEventListener(kind, (event) => { if (event.target.dataset.path) ask("ghost").value = ""; }, true));
      const root = this.$root;
      root.addEventListener("pointerdown", (event) => {
        if (!event.target.matches("canvas.solid") || event.button !== 0) return;
        this.held = { x: event.clientX, y: event.clientY, ...this.turn };
        event.target.setPointerCapture(event.pointerId);
      });
      root.addEventListener("pointerup", () => { this.held = null; });
      root.addEventListener("wheel", (event) => {
        if (!event.target.matches("canvas.solid")) return;
        event.preventDefault();
        this.nearer(event.deltaY < 0 ? 1.1 : 1 / 1.1);
      }, { passive: false });
      window.addEventListener("resize", () => this.paint());
      this.paint();
    },

    nearer(by) { this.turn.near = Math.min(6, Math.max(0.4, this.turn.near * by)); this.paint(); },

    key(event) {
      const svg = event.target.closest("svg[data-sections]");
      if (svg && ["ArrowLeft", "ArrowRight", "Home", "End"].includes(event.key)) {
        event.preventDefault();
        const last = Number(svg.dataset.sections) - 1, now = Number(svg.dataset.section);
        const to = { ArrowLeft: now - 1, ArrowRight: now + 1, Home: 0, End: last }[event.key];
        ask("section").value = String(Math.min(last, Math.max(0, to)));
        work.look(null).then(() => { const again = this.$root.querySelector("svg[data-sections]"); if (again) again.focus({ preventScroll: true }); });
        return;
      }
      if (!event.target.matches("canvas.solid")) return;
      const step = (event.shiftKey ? 1 : 5) * Math.PI / 180;
      const by = { ArrowLeft: ["yaw", step], ArrowRight: ["yaw", -step], ArrowUp: ["pitch", step], ArrowDown: ["pitch", -step] }[event.key];
      if (by) { this.turn[by[0]] += by[1]; this.limit(); }
      else if (event.key === "+" || event.key === "=") this.turn.near = Math.min(6, this.turn.near * 1.15);
      else if (event.key === "-") this.turn.near = Math.max(0.4, this.turn.near / 1.15);
      else if (event.key === "0") this.turn = { yaw: -0.62, pitch: 0.42, near: 1 };
      else return;
      event.preventDefault();
      this.paint();
    },

    limit() { this.turn.pitch = Math.min(Math.PI / 2, Math.max(-Math.PI / 2, this.turn.pitch)); },

    read(event) {
      if (this.held && event.target.matches("canvas.solid")) {
        this.turn.yaw = this.held.yaw - (event.clientX - this.held.x) * 0.008;
        this.turn.pitch = this.held.pitch + (event.clientY - this.held.y) * 0.008;
        this.limit();
        this.paint();
        return;
      }
      const svg = event.target.closest && event.target.closest("svg[data-views]");
      if (!svg) { this.unread(); return; }
      const { views, per, unit, decimals } = JSON.parse(svg.dataset.views);
      const box = svg.getBoundingClientRect(), size = WIDTH / box.width;
      const x = (event.clientX - box.left) * size, y = (event.clientY - box.top) * size;
      const view = views.find((v) => x >= v.x0 && x <= v.x1 && y >= v.y0 && y <= v.y1);
      if (!view) { this.unread(); return; }
      const say = (metres) => `${(metres / per).toFixed(decimals).replace(/^-(0(\.0*)?)$/, "$1").replace("-", "\u2212")}\u00a0${unit}`;
      this.$refs.read.textContent = `${say(view.sign * (x - view.ox) / view.scale)} ${view.across}, ${say((view.oy - y) / view.scale)} ${view.up}`;
    },
    unread() { this.$refs.read.textContent = ""; },

    // Painter's order: what is under water, the surface, what stands above; seen from below the other way round.
    paint() {
      const canvas = this.$root.querySelector("canvas.solid");
      if (!canvas) return;
      if (this.source !== canvas.dataset.solid) { this.source = canvas.dataset.solid; this.body = JSON.parse(this.source); }
      const { points, faces, water, span } = this.body;
      const ratio = window.devicePixelRatio || 1, wide = canvas.clientWidth, high = canvas.clientHeight;
      canvas.width = wide * ratio; canvas.height = high * ratio;
      const g = canvas.getContext("2d");
      g.scale(ratio, ratio);
      const { yaw, pitch, near } = this.turn;
      const cy = Math.cos(yaw), sy = Math.sin(yaw), cp = Math.cos(pitch), sp = Math.sin(pitch);
      const scale = near * Math.min(wide / 2.2, high / 1.5) / 1000;
      const place = (x, y, z) => {
        const a = x * cy - y * sy, b = x * sy + y * cy; // turned about the upright
        return [wide / 2 + a * scale, high / 2 - (z * cp + b * sp) * scale, z * sp - b * cp];
      };
      const at = new Float64Array(points.length);
      for (let k = 0; k < points.length; k += 3) { const p = place(points[k], points[k + 1], points[k + 2]); at[k] = p[0]; at[k + 1] = p[1]; at[k + 2] = p[2]; }
      const wet = [], dry = [], inner = [], open = [];
      for (let f = 0; f < faces.length; f += 4) {
        const a = 3 * faces[f], b = 3 * faces[f + 1], c = 3 * faces[f + 2];
        const front = (at[b] - at[a]) * (at[c + 1] - at[a + 1]) - (at[b + 1] - at[a + 1]) * (at[c] - at[a]);
        if (faces[f + 3] & 16) { if (front < 0) open.push([a, b, c]); continue; }
        if (front >= 0) { inner.push([at[a + 2] + at[b + 2] + at[c + 2], a, b, c, faces[f + 3]]); continue; }
        (faces[f + 3] & 1 ? wet : dry).push([at[a + 2] + at[b + 2] + at[c + 2], a, b, c, faces[f + 3]]);
      }
      const light = (a, b, c) => {
        const ux = points[b] - points[a], uy = points[b + 1] - points[a + 1], uz = points[b + 2] - points[a + 2];
        const vx = points[c] - points[a], vy = points[c + 1] - points[a + 1], vz = points[c + 2] - points[a + 2];
        const n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx], size = Math.hypot(...n) || 1;
        return 0.78 + 0.22 * ((0.25 * n[0] - 0.45 * n[1] + 0.86 * n[2]) / size);
      };
      const fill = (list, tint) => {
        list.sort((p, q) => p[0] - q[0]);
        for (const [, a, b, c, marks] of list) {
          const l = light(a, b, c);
          g.fillStyle = g.strokeStyle = `rgb(${tint.map((v) => Math.round(v * l)).join(",")})`;
          g.lineWidth = 0.7;
          g.beginPath(); g.moveTo(at[a], at[a + 1]); g.lineTo(at[b], at[b + 1]); g.lineTo(at[c], at[c + 1]); g.closePath(); g.fill(); g.stroke();
          if (marks & 14) {
            g.strokeStyle = colour("dim"); g.lineWidth = 0.9; g.beginPath();
            [[2, a, b], [4, b, c], [8, c, a]].forEach(([bit, p, q]) => { if (marks & bit) { g.moveTo(at[p], at[p + 1]); g.lineTo(at[q], at[q + 1]); } });
            g.stroke();
          }
        }
      };
      const surface = () => {
        const x = span[0] * 1.25, y = Math.max(span[1] * 1.6, span[0] * 0.35);
        const corners = [[-x, -y], [x, -y], [x, y], [-x, y]].map(([p, q]) => place(p, q, water));
        g.beginPath(); corners.forEach((p, k) => (k ? g.lineTo(p[0], p[1]) : g.moveTo(p[0], p[1]))); g.closePath();
        g.fillStyle = "rgba(150,196,192,.52)"; g.fill();
        g.strokeStyle = colour("deep"); g.lineWidth = 1; g.stroke();
        g.strokeStyle = "rgba(31,103,112,.22)"; g.beginPath();
        for (let k = 1; k < 8; k += 1) {
          const t = -1 + k / 4, a = place(t * x, -y, water), b = place(t * x, y, water);
          g.moveTo(a[0], a[1]); g.lineTo(b[0], b[1]);
        }
        g.stroke();
      };
      const under = () => fill(wet, [176, 205, 200]), over = () => fill(dry, [251, 249, 243]);
      // Of an open boat the inside, as far as it is seen through what is open.
      const inside = () => {
        if (!open.length) return;
        g.save(); g.beginPath();
        for (const [a, b, c] of open) { g.moveTo(at[a], at[a + 1]); g.lineTo(at[b], at[b + 1]); g.lineTo(at[c], at[c + 1]); g.closePath(); }
        g.clip();
        fill(inner, [214, 204, 184]);
        g.restore();
      };
      if (pitch >= 0) { under(); surface(); inside(); over(); } else { over(); surface(); under(); }
      g.fillStyle = colour("ink"); g.font = "600 12px 'Atkinson Hyperlegible Next', sans-serif";
      const bow = place(span[0] * 1.12, 0, water), stern = place(-span[0] * 1.12, 0, water);
      g.textAlign = "center"; g.fillText("bow", bow[0], bow[1]); g.fillText("stern", stern[0], stern[1]);
    },
  }));
});

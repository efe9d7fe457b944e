// The bench scale: readings as they come, held when asked, each taken once.
document.addEventListener("alpine:init", () => {
  const work = window.YareKeel;
  // One line to the scale for the whole page, however often the form around the dial is drawn again.
  const line = { source: null, last: null, heldAt: null, plugged: true, on: "nothing", dials: new Set() };

  function listen(url) {
    if (line.source) return;
    line.source = new EventSource(`${url}/stream`);
    line.source.onmessage = (event) => { line.last = JSON.parse(event.data).at(-1); line.dials.forEach((dial) => dial.show()); };
    line.source.onerror = () => { if (!line.heldAt) line.last = null; line.dials.forEach((dial) => dial.show()); }; // it calls again by itself
  }

  const WORDS = { settling: "settling", settled: "steady", overload: "too heavy for this scale", off: "does not answer" };

  Alpine.data("dial", () => ({
    shown: "–", words: "", held: "false", holdWords: "Hold", plugWords: "Unplug it", trouble: "", untakeable: true,
    init() {
      const on = this.$root.querySelector("select");
      if ([...on.options].some((o) => o.value === line.on)) on.value = line.on;
      line.dials.add(this); listen(this.$root.dataset.act); this.show();
    },
    destroy() { line.dials.delete(this); if (!line.dials.size && line.source) { line.source.close(); line.source = null; } },
    reading() { return line.heldAt || line.last; },
    show() {
      const r = this.reading();
      this.held = String(Boolean(line.heldAt));
      this.holdWords = line.heldAt ? "Let go" : "Hold";
      this.plugWords = line.plugged ? "Unplug it" : "Plug it in";
      this.words = (line.heldAt ? "held, " : "") + (r ? WORDS[r.state] : "does not answer");
      const { unit, si, digits } = this.$root.dataset;
      this.shown = r && r.kg !== null ? `${(r.kg < 0 ? "−" : "") + Math.abs(r.kg / si).toFixed(digits)} ${unit}` : r && r.state === "overload" ? "OL" : "–";
      this.untakeable = !(r && r.state === "settled");
    },
    async act(what, on = "") {
      this.trouble = "";
      try {
        const answer = await fetch(this.$root.dataset.act, { method: "POST", headers: { "content-type": "application/json", accept: "application/json" }, body: JSON.stringify({ do: what, what: on }) });
        if (!answer.ok) this.trouble = (await answer.json()).message || "That was not done.";
        return answer.ok;
      } catch {
        this.trouble = "The program does not answer; nothing was changed.";
        return false;
      }
    },
    put(event) { event.stopPropagation(); line.heldAt = null; line.on = event.target.value; this.act("put", event.target.value); },
    tare() { line.heldAt = null; this.act("tare"); },
    async plug() { if (await this.act(line.plugged ? "unplug" : "plug")) { line.plugged = !line.plugged; this.show(); } },
    hold() { line.heldAt = line.heldAt ? null : line.last && line.last.state === "settled" ? line.last : null; if (!line.heldAt && this.untakeable) this.trouble = "Wait until the reading is steady, then hold it."; else this.trouble = ""; this.show(); },
    take(event) {
      const r = this.reading();
      if (!r || r.state !== "settled") return;
      work.keep({ action: "do", verb: "scale.take", path: "scale.take", args: { number: r.number, path: event.currentTarget.dataset.for } }).then(() => { line.heldAt = null; this.show(); });
    },
  }));
});

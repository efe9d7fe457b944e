// The tilt sensor: its trace as it comes, drawn over the last fifteen seconds; a push, a weight moved, angles and periods taken.
document.addEventListener("alpine:init", () => {
  const work = window.YareKeel;
  const SECONDS = 15;
  // One line to the sensor for the whole page, however often the form around it is drawn again.
  const line = { source: null, readings: [], plugged: true, shown: new Set(), words: "", moved: "", queue: Promise.resolve() };

  function listen(url, act) {
    if (line.source) return;
    act("aboard");
    line.source = new EventSource(`${url}/stream`);
    line.source.onmessage = (event) => {
      line.readings.push(...JSON.parse(event.data));
      const last = line.readings[line.readings.length - 1][0];
      while (line.readings.length && line.readings[0][0] < last - SECONDS) line.readings.shift();
      line.shown.forEach((one) => one.show());
    };
  }

  Alpine.data("tilt", () => ({
    shown: "–", words: "", plugWords: "Unplug it",
    init() {
      line.shown.add(this);
      this.words = line.words;
      this.plugWords = line.plugged ? "Unplug it" : "Plug it in";
      this.field().value = line.moved;
      listen(this.$root.dataset.act, (what) => this.act(what));
      this.show();
    },
    destroy() { line.shown.delete(this); if (!line.shown.size && line.source) { line.source.close(); line.source = null; line.readings = []; } },
    field() { return this.$root.querySelector("#tilt-moved"); },
    say(words) { line.words = words; this.words = words; },
    show() {
      const last = line.readings[line.readings.length - 1];
      this.shown = !last || last[1] === null ? "does not answer" : `${Math.abs(last[1]).toFixed(1)}° ${Math.abs(last[1]) < 0.05 ? "" : last[1] > 0 ? "to starboard" : "to port"}`;
      if (!last) return;
      const heard = line.readings.filter((r) => r[1] !== null);
      const reach = Math.max(2, ...heard.map((r) => Math.abs(r[1]))) * 1.1;
      const points = heard.map((r) => `${(774 - (last[0] - r[0]) / SECONDS * 730).toFixed(1)},${(75 - r[1] / reach * 62).toFixed(1)}`).join(" ");
      this.$root.querySelector(".trace-line").setAttribute("points", points);
      this.$root.querySelector(".trace-high").textContent = `${reach.toFixed(0)}°`;
      this.$root.querySelector(".trace-low").textContent = `−${reach.toFixed(0)}°`;
    },
    // One after the other: what is asked of a sensor must not overtake its being put aboard.
    act(what, on = "") { line.queue = line.queue.then(() => this.send(what, on)); return line.queue; },
    async send(what, on) {
      try {
        const answer = await fetch(this.$root.dataset.act, { method: "POST", headers: { "content-type": "application/json", accept: "application/json" }, body: JSON.stringify({ do: what, what: on }) });
        const data = await answer.json();
        if (what !== "aboard" || !answer.ok) this.say(answer.ok ? data.words || { zero: "Zeroed: its own slant is taken off.", move: "Moved; wait until it lies still, then take the angle." }[what] || "" : data.message || "That was not done.");
        return answer.ok;
      } catch {
        this.say("The program does not answer; nothing was changed.");
        return false;
      }
    },
    push() { this.act("push").then((done) => { if (done) this.say("Let go: give it three rolls or more, then fit or take the period."); }); },
    move() { line.moved = this.field().value; this.act("move", this.field().value); },
    async plug() { if (await this.act(line.plugged ? "unplug" : "plug")) { line.plugged = !line.plugged; this.plugWords = line.plugged ? "Unplug it" : "Plug it in"; } },
    take(path) { line.moved = this.field().value; work.keep({ action: "do", verb: path, path, args: { text: this.field().value } }); },
  }));
});

// The thrust stand: its readings as they come, throttle and tare, points taken one by one or by a sweep of steps.
document.addEventListener("alpine:init", () => {
  const work = window.YareKeel;
  const STEPS = [0, 10, 20, 30, 40, 50, 60, 70, 80, 90, 100, 90, 80, 70, 60, 50, 40, 30, 20, 10, 0];
  const HELD = 20; // readings of a settled throttle that make a point
  const STATES = { settling: "settling", steady: "steady", off: "does not answer" };
  // One line to the stand for the whole page, however often the form around it is drawn again.
  const line = { source: null, last: null, plugged: true, throttle: 0, wrong: "none", said: "", trouble: "", run: 0, shown: new Set() };
  const pause = (ms) => new Promise((done) => setTimeout(done, ms));
  const each = () => line.shown.forEach((one) => one.show());

  async function send(url, what, on = "") {
    line.trouble = "";
    try {
      const answer = await fetch(url, { method: "POST", headers: { "content-type": "application/json", accept: "application/json" }, body: JSON.stringify({ do: what, what: String(on) }) });
      if (!answer.ok) line.trouble = (await answer.json()).message || "That was not done.";
      each();
      return answer.ok;
    } catch {
      line.trouble = "The program does not answer.";
      each();
      return false;
    }
  }

  function listen(url) {
    if (line.source) return;
    line.source = new EventSource(`${url}/stream`);
    line.source.onmessage = (event) => { line.last = JSON.parse(event.data); each(); };
    line.source.onerror = () => { line.last = null; each(); }; // it calls again by itself
  }

  async function keep(test) {
    const point = line.last && line.last.point;
    if (!point) return false;
    work.keep({ action: "do", verb: "bench.take", path: "bench.take", args: { test: Number(test), ...point } });
    await pause(20);
    await work.idle();
    return !work.edits.length;
  }

  async function settled(run, percent) {
    for (;;) {
      if (run !== line.run) return false;
      const last = line.last;
      if (last && last.state === "steady" && last.throttle === percent && last.readings >= HELD && last.point) return true;
      if (!last || last.state === "off") line.said = "The stand does not answer: what was taken is kept. Plug it in and the sweep goes on, or stop it.";
      each();
      await pause(100);
    }
  }

  async function swept(url, test) {
    const run = ++line.run;
    let taken = 0;
    await send(url, "clamp", test);
    await send(url, "throttle", 0);
    await pause(600);
    await send(url, "tare");
    for (const percent of STEPS) {
      while (run === line.run && !(await send(url, "throttle", percent))) await pause(800);
      line.throttle = percent;
      line.said = `Sweeping: ${percent} %, reading ${taken + 1} of ${STEPS.length}.`;
      each();
      if (!(await settled(run, percent))) break;
      while (run === line.run && !(await keep(test))) await pause(500); // saved before the throttle moves on
      if (run !== line.run) break;
      taken += 1;
    }
    const whole = taken === STEPS.length;
    if (run === line.run || !whole) {
      await send(url, "throttle", 0);
      line.throttle = 0;
      line.said = whole ? `Sweep done: ${taken} readings taken.` : `Stopped: the ${taken} readings taken are kept.`;
    }
    if (run === line.run) line.run += 1;
    line.sweeping = false;
    each();
  }

  Alpine.data("stand", () => ({
    shown: "–", words: "", electric: "", plugWords: "Unplug it", throttleWords: "0 %", said: "", trouble: "", untakeable: true, sweeping: false,
    init() {
      line.shown.add(this);
      this.$root.querySelector("select").value = line.wrong;
      listen(this.act());
      if (!line.sweeping) send(this.act(), "clamp", this.$root.dataset.test);
      this.show();
    },
    destroy() {
      line.shown.delete(this);
      if (!line.shown.size && line.source) { line.source.close(); line.source = null; line.run += 1; line.last = null; }
    },
    act() { return this.$root.dataset.act; },
    show() {
      const last = line.last;
      this.shown = last ? last.force : "–";
      this.words = STATES[last ? last.state : "off"];
      this.electric = last ? last.electric : "";
      this.plugWords = line.plugged ? "Unplug it" : "Plug it in";
      this.throttleWords = `${line.throttle} %`.replace("-", "−");
      this.said = line.said;
      this.trouble = line.trouble;
      this.untakeable = Boolean(line.sweeping) || !(last && last.point);
      this.sweeping = Boolean(line.sweeping);
      const slider = this.$root.querySelector("input[type=range]");
      if (document.activeElement !== slider) slider.value = line.throttle;
    },
    push(event) { if (line.sweeping) return; line.throttle = Number(event.target.value); send(this.act(), "throttle", line.throttle); this.show(); },
    tare() { send(this.act(), "tare"); },
    async take() { line.said = (await keep(this.$root.dataset.test)) ? "Taken." : "Not taken: wait until the reading is steady."; each(); },
    sweep() { if (!line.sweeping) { line.sweeping = true; each(); swept(this.act(), this.$root.dataset.test); } },
    stop() { line.run += 1; line.throttle = 0; send(this.act(), "throttle", 0); each(); },
    wrong(event) { event.stopPropagation(); line.wrong = event.target.value; send(this.act(), "trouble", event.target.value); },
    async plug() { if (await send(this.act(), line.plugged ? "unplug" : "plug")) { line.plugged = !line.plugged; each(); } },
  }));
});

// A run played in the tank: the slider walks along while it plays; dragging or the arrow keys pause it.
document.addEventListener("alpine:init", () => {
  const work = window.YareKeel;
  const STEPS = 90, PAUSE = 90; // slider steps of a whole run, and ms between two
  Alpine.data("player", () => ({
    playing: false, words: "Play", alive: true,
    slider() { return this.$root.querySelector('input[type="range"]'); },
    toggle() {
      this.playing = !this.playing;
      this.words = this.playing ? "Pause" : "Play";
      const s = this.slider();
      if (this.playing && Number(s.value) >= Number(s.max)) s.value = s.min;
      if (this.playing) this.step();
    },
    pause() { this.playing = false; this.words = "Play"; },
    async step() {
      while (this.playing && this.alive) {
        const s = this.slider(), next = Number(s.value) + Number(s.max) / STEPS;
        s.value = String(Math.min(next, Number(s.max)));
        await work.look(null);
        if (Number(s.value) >= Number(s.max)) { this.pause(); break; }
        await new Promise((done) => setTimeout(done, PAUSE));
      }
    },
    destroy() { this.alive = false; },
  }));
});

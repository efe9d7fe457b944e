// Small things: keys for the whole page, forms that go off by themselves, a form that remembers what was typed.
// A CSV file's text goes where pasted rows go.
document.addEventListener("change", async (event) => {
  const { into } = event.target.dataset;
  if (into && event.target.files.length) document.querySelector(into).value = (await event.target.files[0].text()).slice(0, 2000000);
});

// Thousands of pasted rows are put in at once: typed in one by one, as a browser does, they take seconds.
document.addEventListener("paste", (event) => {
  const text = event.clipboardData ? event.clipboardData.getData("text/plain") : "";
  if (!event.target.matches("textarea") || text.length < 2000) return;
  event.preventDefault();
  event.target.setRangeText(text, event.target.selectionStart, event.target.selectionEnd, "end");
  event.target.dispatchEvent(new Event("input", { bubbles: true }));
});

// Every table and curve of a page as one CSV: each under its name, figures as they stand on the page.
(() => {
  const cell = (text) => {
    const plain = text.replace(/\s+/g, " ").trim().replace(/\u2212/g, "-");
    const safe = /^[=+@|]/.test(plain) || /^-(?![\d.])/.test(plain) ? `'${plain}` : plain;
    return `"${safe.replace(/"/g, '""')}"`;
  };
  const named = (el) => (el.closest("[aria-label]") || el).getAttribute("aria-label") || "Table";
  function pageAsCsv() {
    const lines = [];
    document.querySelectorAll("main table").forEach((table) => {
      lines.push(cell(named(table)));
      table.querySelectorAll("tr").forEach((row) => lines.push([...row.children].map((c) => {
        const field = c.querySelector("input[type=text], select");
        return cell(field ? (field.selectedOptions ? field.selectedOptions[0].text : field.value) : c.innerText);
      }).join(",")));
      lines.push("");
    });
    document.querySelectorAll("main svg[data-read]").forEach((chart) => {
      lines.push(cell(chart.getAttribute("aria-label") || "Chart"));
      JSON.parse(chart.dataset.read).forEach(([, words]) => lines.push(words.split(/[;,] (?=[^\d])/).map(cell).join(",")));
      lines.push("");
    });
    document.querySelectorAll("main svg[data-points]").forEach((chart) => {
      lines.push(cell(chart.getAttribute("aria-label") || "Chart"));
      Object.entries(JSON.parse(chart.dataset.points)).forEach(([side, points]) => points.forEach((p) => lines.push([cell(side), ...p.slice(0, 1).map((v) => cell(String(v)))].join(","))));
      lines.push("");
    });
    return lines.join("\n");
  }
  document.addEventListener("click", (event) => {
    if (!event.target.closest || !event.target.closest("[data-csv]")) return;
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([pageAsCsv()], { type: "text/csv" }));
    link.download = `${document.title.replace(/[^\w]+/g, "-")}.csv`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 1000);
  });
})();

document.addEventListener("alpine:init", () => {
  Alpine.data("keys", () => ({
    pressed(event) {
      const typing = event.target.closest && event.target.closest("input:not([type=range]):not([type=checkbox]), select, textarea, dialog[open]");
      const work = window.YareKeel;
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z" && work.base && !work.sealed) {
        if (typing && event.target.value !== event.target.defaultValue) return; // the field's own undo first
        event.preventDefault();
        work.step(event.shiftKey ? "redo" : "undo");
        return;
      }
      if (typing || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === "?") { event.preventDefault(); this.$refs.keys.showModal(); }
      else if (/^[1-9]$/.test(event.key)) { // the ladder knows its stages
        const rung = document.querySelectorAll(".ladder a")[Number(event.key) - 1];
        if (rung) location.assign(rung.href);
      }
    },
  }));

  Alpine.data("submitter", () => ({
    send() { this.$root.requestSubmit(); },
  }));

  // Reading a large mesh takes seconds: the page says so.
  Alpine.data("reading", () => ({
    words: "",
    start() { this.words = "Reading it and looking it over… a large mesh takes some seconds; Esc stops it."; },
  }));

  // A trial typed at the pond survives a closed tab: it is kept here until the form is sent.
  Alpine.data("draft", () => ({
    name: "",
    init() {
      this.name = `trial:${this.$root.dataset.draft}`;
      const kept = JSON.parse(localStorage.getItem(this.name) || "null");
      if (!kept || this.$root.querySelector("[aria-invalid]")) return;
      this.each((el) => {
        if (el.type === "checkbox") el.checked = (kept[el.name] || []).includes(el.value);
        else if (kept[el.name] !== undefined) el.value = kept[el.name];
      });
    },
    each(act) { this.$root.querySelectorAll("input[name]:not([type=hidden]), select[name], textarea[name]").forEach(act); },
    keep() {
      const kept = {};
      this.each((el) => {
        if (el.type === "checkbox") { kept[el.name] = kept[el.name] || []; if (el.checked) kept[el.name].push(el.value); }
        else kept[el.name] = el.value;
      });
      localStorage.setItem(this.name, JSON.stringify(kept));
    },
    done() { localStorage.removeItem(this.name); },
  }));
});

// What is typed or pressed before the page listens is kept, and done in its order once it does. Loaded before all else.
(() => {
  const kinds = ["keydown", "input", "change", "click"];
  const early = [];
  // A link, or a button that sends its form, does so by itself.
  const acts = (el) => Boolean(el.closest("a[href]")) || Boolean(el.closest("button, input[type=submit]")?.form && el.closest("button, input").type === "submit");
  const keep = (event) => {
    if (!event.isTrusted || !(event.target instanceof Element) || (event.type === "click" && acts(event.target))) return;
    const { key, code, ctrlKey, metaKey, shiftKey, altKey } = event;
    early.push([event.target, event.type === "keydown"
      ? new KeyboardEvent("keydown", { key, code, ctrlKey, metaKey, shiftKey, altKey, bubbles: true, cancelable: true })
      : new Event(event.type, { bubbles: true, cancelable: true })]);
  };
  kinds.forEach((kind) => document.addEventListener(kind, keep, true));
  document.addEventListener("alpine:initialized", () => {
    kinds.forEach((kind) => document.removeEventListener(kind, keep, true));
    early.forEach(([target, event]) => (target.isConnected ? target : document.body).dispatchEvent(event));
  }, { once: true });
})();

// A page that is still being worked out: how far it has come, a stop, and the page itself in the end.
(() => {
  const main = document.querySelector("[data-waiting]");
  const address = `/waiting/${main.dataset.waiting}`;
  const words = main.querySelector("[data-waiting-words]");
  const seconds = main.querySelector("[data-waiting-seconds]");
  const bar = main.querySelector("[data-waiting-share]");
  const events = new EventSource(`${address}/events`);
  const sentence = (text) => text.charAt(0).toUpperCase() + text.slice(1) + ".";

  events.onmessage = (event) => {
    const now = JSON.parse(event.data);
    if (now.words) words.textContent = sentence(now.words);
    seconds.textContent = `${now.seconds.toFixed(0)} s`;
    if (now.share === null) bar.removeAttribute("value");
    else bar.value = now.share;
  };
  events.addEventListener("end", async () => {
    events.close();
    const answer = await fetch(`${address}/answer`, { headers: { accept: "text/html" } });
    if (answer.redirected) { location.replace(answer.url); return; }
    const page = await answer.text();
    document.open();
    document.write(page);
    document.close();
  });
  main.querySelector("[data-waiting-stop]").addEventListener("click", () => fetch(`${address}/stop`, { method: "POST" }));
})();

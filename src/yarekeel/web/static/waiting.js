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
  // A file goes to the browser as it is, which keeps it; the page stays, and leads back.
  const handOver = () => {
    main.querySelector("h1").textContent = "The file is ready";
    words.textContent = "It is among the downloads of your browser.";
    [seconds, bar.parentElement, main.querySelector("[data-waiting-stop]")].forEach((el) => { el.hidden = true; });
    main.querySelector("[data-waiting-back]").hidden = history.length < 2; // opened in a tab of its own
    location.replace(`${address}/answer`);
  };
  main.querySelector("[data-waiting-back]").addEventListener("click", () => history.back());
  events.onerror = () => {
    if (events.readyState === EventSource.CLOSED) words.textContent = "The program does not answer any more; load this page again.";
  };
  events.addEventListener("end", async (event) => {
    events.close();
    const { page: isPage, again } = JSON.parse(event.data);
    if (again) { location.reload(); return; } // taken for left, as a page that slept is
    if (!isPage) { handOver(); return; }
    const answer = await fetch(`${address}/answer`, { headers: { accept: "text/html" } });
    if (answer.redirected) { location.replace(answer.url); return; }
    const page = await answer.text();
    document.open();
    document.write(page);
    document.close();
  });
  main.querySelector("[data-waiting-stop]").addEventListener("click", () => fetch(`${address}/stop`, { method: "POST" }));
})();

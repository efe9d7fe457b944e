// Cards of the yard that were not worked out yet, one after the other.
document.addEventListener("DOMContentLoaded", async () => {
  for (const card of document.querySelectorAll("[data-card]")) {
    try {
      const answer = await fetch(card.dataset.card);
      if (answer.ok) card.outerHTML = await answer.text();
    } catch {
      return; // the page was left, or the program ended
    }
  }
});

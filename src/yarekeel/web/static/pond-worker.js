// Keeps an opened pond sheet: the network first, and what was kept where there is none.
const KEPT = "pond-sheets";

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

async function answered(request) {
  const kept = await caches.open(KEPT);
  const soon = new AbortController();
  const late = setTimeout(() => soon.abort(), 4000); // a connection that hangs is none
  try {
    const answer = await fetch(request.mode === "navigate" ? request.url : request, { signal: soon.signal, credentials: "same-origin" });
    if (answer.ok) await kept.put(request.url, answer.clone());
    return answer;
  } catch (error) {
    const found = await kept.match(request.url);
    if (found) return found;
    throw error;
  } finally {
    clearTimeout(late);
  }
}

self.addEventListener("fetch", (event) => {
  const { pathname, origin } = new URL(event.request.url);
  const mine = /^\/pond\/[^/]+$/.test(pathname) || /^\/pond\/[^/]+\/manifest\.json$/.test(pathname) || pathname.startsWith("/static/");
  if (event.request.method === "GET" && origin === location.origin && mine) event.respondWith(answered(event.request));
});

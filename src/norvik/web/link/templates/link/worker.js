// Keeps what was seen on this page, so that it opens again without a line. The film is not kept.
const STORE = "norvik-review";

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const film = request.headers.has("range") || new URL(request.url).pathname.endsWith(".mp4");
  if (request.method !== "GET" || film) return;
  event.respondWith(fresh(request));
});

// The newest there is; without a line what was seen last.
async function fresh(request) {
  const store = await caches.open(STORE);
  try {
    const answer = await fetch(request);
    if (answer.ok) await store.put(request, answer.clone());
    else if (answer.status === 404) await store.delete(request);
    return answer;
  } catch (error) {
    const kept = await store.match(request);
    if (kept) return kept;
    throw error;
  }
}

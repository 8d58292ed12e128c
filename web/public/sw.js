/* Keeps the pages and the open run at hand, so that bench mode works without the network once it was opened.
   Pages and answers: the network first, what is kept where it does not answer. Built files carry their hash: kept as they are. */
const KEPT = "cavatum-__VERSION__";
const FILES = __FILES__;
const ANSWERS = /^\/api\/v1\/(session|runs(\/\d+)?)$/;
const PATIENCE_MS = 4000;

self.addEventListener("install", (event) => {
  event.waitUntil(caches.open(KEPT).then((cache) => cache.addAll(["/", ...FILES])).then(() => self.skipWaiting()));
});

self.addEventListener("activate", (event) => {
  event.waitUntil(
    caches.keys().then((names) => Promise.all(names.filter((name) => name.startsWith("cavatum-") && name !== KEPT).map((name) => caches.delete(name)))).then(() => self.clients.claim()),
  );
});

async function networkFirst(request, key) {
  const cache = await caches.open(KEPT);
  try {
    const answer = await Promise.race([fetch(request), new Promise((_, late) => setTimeout(() => late(new Error("late")), PATIENCE_MS))]);
    if (answer.ok) await cache.put(key, answer.clone());
    return answer;
  } catch {
    return (await cache.match(key)) ?? Response.error();
  }
}

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== self.location.origin) return;
  if (url.pathname.startsWith("/api/") && !ANSWERS.test(url.pathname)) return; // files to be saved, and all that changes
  if (url.pathname.startsWith("/assets/")) event.respondWith(caches.match(request).then((kept) => kept ?? fetch(request)));
  else if (request.mode === "navigate") event.respondWith(networkFirst(request, "/"));
  else if (ANSWERS.test(url.pathname)) event.respondWith(networkFirst(request, request.url));
});

/* Keeps what was seen at hand, so that every page that was opened once opens again without the network, and says since
   when it stands so. Pages and answers: the network first, what is kept where it does not answer. Only the bench's own
   answers are also given when the network is merely slow: a plan that is being worked out anew must never be shown as it
   was before, and what an instrument shows is not kept at all. Built files carry their hash: kept as they are. */
const KEPT = "cavatum-__VERSION__";
const ANSWERED = "cavatum-answers";
const FILES = __FILES__;
const BENCH = /^\/api\/v1\/(session|runs(\/\d+)?)$/;
const SEEN =
  /^\/api\/v1\/(bench|pieces(\/\d+(\/(plan|finish|stock|learned|weighings|starts|mend|pour-address))?)?|runs\/\d+\/(heat|debrief|record)|voice\/calls|weighings|stock|systems|goods|logbook|learned|calendar)$/;
const SHOWN = "cavatum-shown";
const MOST_SHOWN = 200;
const PATIENCE_MS = 4000;
const MOST_ANSWERS = 300;
const SINCE = "X-Kept-Since";

self.addEventListener("install", (event) => {
  event.waitUntil(caches.open(KEPT).then((cache) => cache.addAll(["/", ...FILES])).then(() => self.skipWaiting()));
});

self.addEventListener("activate", (event) => {
  const stays = (name) => name === KEPT || name === ANSWERED || name === SHOWN || !name.startsWith("cavatum-");
  event.waitUntil(
    caches.keys().then((names) => Promise.all(names.filter((name) => !stays(name)).map((name) => caches.delete(name)))).then(() => self.clients.claim()),
  );
});

/** With the moment it was answered, and the oldest thrown away past MOST_ANSWERS. */
async function keep(key, answer) {
  const cache = await caches.open(ANSWERED);
  const headers = new Headers(answer.headers);
  headers.set(SINCE, new Date().toISOString());
  await cache.delete(key);
  await cache.put(key, new Response(await answer.blob(), { status: answer.status, headers }));
  const keys = await cache.keys();
  for (const old of keys.slice(0, Math.max(keys.length - MOST_ANSWERS, 0))) await cache.delete(old);
}

async function answered(request, patience) {
  const late = patience ? [new Promise((_, fail) => setTimeout(() => fail(new Error("late")), patience))] : [];
  try {
    const answer = await Promise.race([fetch(request), ...late]);
    // A device without room keeps nothing; that must not cost the answer itself.
    if (answer.ok) await keep(request.url, answer.clone()).catch(() => undefined);
    return answer;
  } catch {
    return (await caches.match(request.url, { cacheName: ANSWERED })) ?? Response.error();
  }
}

async function page(request) {
  const cache = await caches.open(KEPT);
  try {
    const answer = await Promise.race([fetch(request), new Promise((_, late) => setTimeout(() => late(new Error("late")), PATIENCE_MS))]);
    if (answer.ok) await cache.put("/", answer.clone()).catch(() => undefined);
    return answer;
  } catch {
    return (await cache.match("/")) ?? Response.error();
  }
}

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== self.location.origin) return;
  if (url.pathname.startsWith("/assets/")) event.respondWith(caches.match(request).then((kept) => kept ?? fetch(request)));
  else if (BENCH.test(url.pathname)) event.respondWith(answered(request, PATIENCE_MS));
  else if (SEEN.test(url.pathname)) event.respondWith(answered(request, 0));
  else if (request.mode === "navigate" && !url.pathname.startsWith("/api/")) event.respondWith(page(request));
});

/** A message of the server's, once: what was shown under the same key is not shown again. Without words that can be read the
    browser would show some of its own; then it is said that there is something. */
async function tell(data) {
  let told = null;
  try {
    told = data?.json();
  } catch {
    // not ours to guess at
  }
  if (typeof told?.key !== "string" || typeof told.title !== "string")
    return self.registration.showNotification("Cavatum", { body: "Something wants hands: open the bench.", tag: "cavatum" });
  const shown = await caches.open(SHOWN);
  const mark = `/shown/${encodeURIComponent(told.key)}`;
  if (await shown.match(mark)) return;
  await shown.put(mark, new Response(new Date().toISOString())).catch(() => undefined);
  const marks = await shown.keys();
  for (const old of marks.slice(0, Math.max(marks.length - MOST_SHOWN, 0))) await shown.delete(old);
  return self.registration.showNotification(told.title, {
    body: String(told.text ?? ""), tag: told.key, icon: "/icon-192.png", data: { link: String(told.link ?? "/") },
    requireInteraction: told.urgent === true, vibrate: [300, 120, 300],
  });
}

/** One message after the other: two of one key that come together would both find that neither was shown. */
let said = Promise.resolve();
self.addEventListener("push", (event) => {
  said = said.catch(() => undefined).then(() => tell(event.data));
  event.waitUntil(said);
});

/** To the page it is about: one that is open comes to the front. */
async function open(link) {
  const wanted = new URL(link || "/", self.location.origin);
  if (wanted.origin !== self.location.origin) return;
  const pages = await self.clients.matchAll({ type: "window", includeUncontrolled: true });
  const there = pages.find((one) => new URL(one.url).pathname === wanted.pathname);
  return there ? there.focus() : self.clients.openWindow(wanted.href);
}

self.addEventListener("notificationclick", (event) => {
  event.notification.close();
  event.waitUntil(open(event.notification.data?.link));
});

// Opens the sheet of a phone that has no connection: the window as it was last loaded, and the answers that it needs to begin with.
const shell = 'jarvo-window'
const answers = 'jarvo-answers'
const begins = /^\/api\/(state|session|choices|clock)$/

self.addEventListener('install', () => self.skipWaiting())
self.addEventListener('activate', (event) => event.waitUntil(self.clients.claim()))
self.addEventListener('message', (event) => {
  if (event.data.keep) event.waitUntil(caches.open(shell).then((cache) => cache.addAll(event.data.keep)))
  if (event.data.forget) event.waitUntil(caches.delete(answers))
})

/** What the network says, which is kept; without a network what was kept last. */
async function newest(request, name, key) {
  const cache = await caches.open(name)
  try {
    const answer = await fetch(request)
    if (answer.ok) await cache.put(key, answer.clone())
    if (answer.status === 401) await caches.delete(answers)
    return answer
  } catch (lost) {
    const kept = await cache.match(key)
    if (kept) return kept
    throw lost
  }
}

/** What never changes under its name. */
async function kept(request) {
  const cache = await caches.open(shell)
  const had = await cache.match(request)
  if (had) return had
  const answer = await fetch(request)
  if (answer.ok) await cache.put(request, answer.clone())
  return answer
}

self.addEventListener('fetch', (event) => {
  const { request } = event
  const url = new URL(request.url)
  if (request.method !== 'GET' || url.origin !== location.origin) return
  if (request.mode === 'navigate' && !url.pathname.startsWith('/api/')) event.respondWith(newest(request, shell, '/'))
  else if (url.pathname.startsWith('/assets/') || url.pathname === '/mark.svg') event.respondWith(kept(request))
  else if (begins.test(url.pathname)) event.respondWith(newest(request, answers, request.url))
})

// Keeps the page itself, so that a reload while the server is away starts with what this browser
// has. Data are none of its business: they stand in the page's own database.
const name = 'kataxis-page'
const page = '/'

// Where a browser knows routes, data go past this worker, and assets come straight out of its cache,
// else from the server; the page puts them there, see `local/assets.ts`.
const routes = [
  { condition: { urlPattern: '/api/*' }, source: 'network' },
  { condition: { urlPattern: '/assets/*' }, source: { cacheName: name } },
]
self.addEventListener('install', (event) => {
  if (event.addRoutes) event.waitUntil(event.addRoutes(routes).catch(() => undefined))
  self.skipWaiting()
})
self.addEventListener('activate', (event) => event.waitUntil(self.clients.claim()))

self.addEventListener('fetch', (event) => {
  const { request } = event
  const { origin, pathname } = new URL(request.url)
  if (request.method !== 'GET' || origin !== self.location.origin || pathname.startsWith('/api/'))
    return
  if (request.mode === 'navigate') event.respondWith(newest(request))
  else if (pathname.startsWith('/assets/')) event.respondWith(kept(request))
})

/** Every address shows the same page: the server's where it answers, else the one that was kept. */
async function newest(request) {
  const cache = await caches.open(name)
  try {
    const response = await fetch(request)
    if (response.ok) await keepPage(cache, response.clone())
    return response
  } catch (error) {
    const known = await cache.match(page)
    if (known) return known
    throw error
  }
}

/** With another page the assets of the one before go. */
async function keepPage(cache, response) {
  const text = await response.clone().text()
  const before = await cache.match(page)
  if (before && (await before.text()) !== text) {
    for (const asset of await cache.keys())
      if (new URL(asset.url).pathname.startsWith('/assets/')) await cache.delete(asset)
  }
  await cache.put(page, response)
}

/** Assets carry their hash in their name and never change. */
async function kept(request) {
  const cache = await caches.open(name)
  const known = await cache.match(request)
  if (known) return known
  const response = await fetch(request)
  if (response.ok) await cache.put(request, response.clone())
  return response
}

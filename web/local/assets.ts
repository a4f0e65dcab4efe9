/** As in `public/offline.js`. */
const cacheName = 'kataxis-page'

/** Puts what this page is made of where it is found while the server is away; the browser has just
 *  fetched it, so it comes out of its own cache. */
export function keepAssets(): void {
  const keep = async (urls: readonly string[]) => {
    const cache = await caches.open(cacheName)
    for (const url of urls) if (!(await cache.match(url))) await cache.add(url)
  }
  const isAsset = (url: string) => new URL(url).pathname.startsWith('/assets/')
  new PerformanceObserver((list) => {
    const urls = list.getEntries().flatMap(({ name }) => (isAsset(name) ? [name] : []))
    if (urls.length > 0) void keep(urls).catch(() => undefined)
  }).observe({ type: 'resource', buffered: true })
}

import { createServer } from 'node:net'

export function isFree(port) {
  return new Promise((resolve) => {
    const probe = createServer()
    probe.once('error', () => resolve(false))
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)))
  })
}

/** The first free loopback port from `port` on, trying a hundred. */
export async function nextFree(port) {
  for (let candidate = port; candidate < port + 100; candidate++)
    if (await isFree(candidate)) return candidate
  return null
}

import { mkdirSync, writeFileSync } from 'node:fs'
import { dirname } from 'node:path'
import { fileURLToPath } from 'node:url'
import { request, type FullConfig } from '@playwright/test'

/** Where the cookie of who drives the tests is kept: the demo's owner. */
export const signedInState = fileURLToPath(
  new URL('../test-results/signed-in.json', import.meta.url),
)

/** Of a browser that has seen the hints of every stage. */
export const withoutHints = (baseURL: string) => ({
  origin: baseURL,
  localStorage: [{ name: 'kataxis.hints-dismissed', value: '["all"]' }],
})

/** Signs in once for all tests that do not sign in themselves. */
export default async function signIn({ projects }: FullConfig): Promise<void> {
  mkdirSync(dirname(signedInState), { recursive: true })
  const baseURL = projects[0]!.use.baseURL!
  const context = await request.newContext({ baseURL })
  await context.post('/api/session', { data: { name: 'owner', password: 'skarvholm' } })
  const { cookies } = await context.storageState()
  writeFileSync(signedInState, JSON.stringify({ cookies, origins: [withoutHints(baseURL)] }))
  await context.dispose()
}

import { mkdirSync } from 'node:fs'
import { dirname } from 'node:path'
import { fileURLToPath } from 'node:url'
import { request, type FullConfig } from '@playwright/test'

/** Where the cookie of who drives the tests is kept: the demo's owner. */
export const signedInState = fileURLToPath(
  new URL('../test-results/signed-in.json', import.meta.url),
)

/** Signs in once for all tests that do not sign in themselves. */
export default async function signIn({ projects }: FullConfig): Promise<void> {
  mkdirSync(dirname(signedInState), { recursive: true })
  const context = await request.newContext({ baseURL: projects[0]!.use.baseURL! })
  await context.post('/api/session', { data: { name: 'owner', password: 'skarvholm' } })
  await context.storageState({ path: signedInState })
  await context.dispose()
}

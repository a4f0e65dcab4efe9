import { rmSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
// Plain Node, without types: the same set-up that `npm start` uses.
import { ensureServerBuild } from '../../scripts/setup/build.mjs'
import { startPostgres } from '../../scripts/setup/postgres.mjs'
import type { TestProject } from 'vitest/node'

const home = fileURLToPath(new URL('../../.kataxis-test', import.meta.url))

/** A PostgreSQL cluster for the tests alone, on a port of its own. */
export default async function setup(project: TestProject): Promise<() => void> {
  // Threads run what was built.
  ensureServerBuild()
  const postgres = await startPostgres(home)
  project.provide('databaseUrl', postgres.url)
  return () => {
    postgres.stop()
    rmSync(home, { recursive: true, force: true })
  }
}

declare module 'vitest' {
  interface ProvidedContext {
    databaseUrl: string
  }
}

import { defineConfig } from 'vitest/config'

const measured = ['server/held-up.test.ts']
const server = {
  // What they import takes longer than most of them.
  isolate: false,
  exclude: ['**/node_modules/**'],
  globalSetup: 'server/test/global-setup.ts',
  env: { KATAXIS_LOG: '/dev/null', KATAXIS_CHECK_ANSWERS: '1' },
  testTimeout: 30_000,
  hookTimeout: 60_000,
}
const apart = ['web/stores/**/*.test.ts', 'core/protocols/invented.test.ts']

export default defineConfig({
  test: {
    maxWorkers: '100%',
    projects: [
      {
        test: {
          // Pure functions: files may share what they import, which costs more than they do.
          name: 'unit',
          include: ['{core,pdf,standins,web}/**/*.test.ts'],
          exclude: ['**/node_modules/**', ...apart],
          isolate: false,
          pool: 'threads',
          testTimeout: 30_000,
        },
      },
      {
        test: {
          // These replace modules by their own.
          name: 'apart',
          include: apart,
          pool: 'threads',
          testTimeout: 30_000,
          exclude: ['**/node_modules/**'],
        },
      },
      {
        test: {
          name: 'cli',
          include: ['cli/**/*.test.ts'],
          testTimeout: 30_000,
          exclude: ['**/node_modules/**'],
        },
      },
      {
        test: {
          // A database and a server of its own for each file.
          ...server,
          name: 'server',
          include: ['server/**/*.test.ts', 'scripts/**/*.test.ts'],
          exclude: [...server.exclude, ...measured],
        },
      },
      {
        test: {
          // Says how long a thread is held up, which nothing beside it may disturb.
          ...server,
          name: 'measured',
          include: measured,
          fileParallelism: false,
        },
      },
    ],
  },
})

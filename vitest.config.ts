import { defineConfig } from 'vitest/config'

const apart = ['web/stores/**/*.test.ts', 'core/protocols/invented.test.ts']

export default defineConfig({
  test: {
    maxWorkers: '100%',
    projects: [
      {
        test: {
          // Pure functions: files may share what they import, which costs more than they do.
          name: 'unit',
          include: ['{core,standins,web}/**/*.test.ts'],
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
          name: 'server',
          include: ['server/**/*.test.ts', 'scripts/**/*.test.ts'],
          exclude: ['**/node_modules/**'],
          globalSetup: 'server/test/global-setup.ts',
          fileParallelism: false,
          env: { KATAXIS_LOG: '/dev/null', KATAXIS_CHECK_ANSWERS: '1' },
          testTimeout: 30_000,
          hookTimeout: 60_000,
        },
      },
    ],
  },
})

import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          // Pure functions: files may share what they import, which costs more than they do.
          name: 'unit',
          include: ['core/**/*.test.ts', 'standins/**/*.test.ts'],
          exclude: ['**/node_modules/**'],
          isolate: false,
        },
      },
      {
        test: {
          name: 'web',
          include: ['web/**/*.test.ts'],
          exclude: ['**/node_modules/**'],
        },
      },
      {
        test: {
          name: 'cli',
          include: ['cli/**/*.test.ts'],
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
          env: { KATAXIS_LOG: '/dev/null' },
          testTimeout: 30_000,
          hookTimeout: 60_000,
        },
      },
    ],
  },
})

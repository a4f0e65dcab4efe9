import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'unit',
          include: [
            'core/**/*.test.ts',
            'standins/**/*.test.ts',
            'cli/**/*.test.ts',
            'web/**/*.test.ts',
          ],
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

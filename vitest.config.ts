import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'

const alias = { '~~': fileURLToPath(new URL('.', import.meta.url)).replace(/\/$/, '') }

export default defineConfig({
  test: {
    projects: [
      {
        resolve: { alias },
        test: {
          name: 'unit',
          setupFiles: ['tests/propertySeed.ts'],
          include: ['{app,core,delivery,shared,server,stand-ins,demo,cli}/**/*.test.ts'],
          // Of what ends by itself: a machine may have more to do than these tests.
          testTimeout: 120_000,
          // They are about pure functions: one process may run many files.
          isolate: false,
        },
      },
      {
        resolve: { alias },
        test: {
          name: 'integration',
          include: ['tests/integration/**/*.test.ts'],
          globalSetup: 'tests/integration/stack.ts',
          testTimeout: 600_000,
          hookTimeout: 600_000,
          expect: { poll: { timeout: 60_000 } },
          // Each has a database and an application of its own.
          maxWorkers: 2,
        },
      },
    ],
  },
})

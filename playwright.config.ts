import { defineConfig } from '@playwright/test'

export default defineConfig({
  testDir: 'tests/browser',
  workers: 1,
  // The loop begins on an empty database, so it gets a world of its own.
  projects: [
    { name: 'loop', testMatch: 'loop.test.ts' },
    { name: 'rest', testIgnore: 'loop.test.ts' },
  ],
  timeout: 420_000,
  expect: { timeout: 15_000 },
  reporter: [['list'], ['json', { outputFile: 'test-results/browser.json' }]],
  use: {
    actionTimeout: 15_000,
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
})

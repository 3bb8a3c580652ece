import { defineConfig } from '@playwright/test'
import { browserProgram } from './cli/stack/browser'

/** A headless browser says that it is a robot, and robots are left out; visitors of the tests are to be people. */
const USER_AGENT =
  'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Safari/537.36'

export default defineConfig({
  testDir: 'tests/browser',
  workers: 2,
  // The loop begins on an empty database.
  projects: [
    { name: 'loop', testMatch: 'loop.test.ts' },
    { name: 'rest', testIgnore: 'loop.test.ts' },
  ],
  timeout: 420_000,
  // Of what is there sooner or later: a machine may have more to do than these tests.
  expect: { timeout: 45_000 },
  reporter: [['list'], ['json', { outputFile: 'test-results/browser.json' }]],
  use: {
    actionTimeout: 45_000,
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: browserProgram(),
      args: [
        `--user-agent=${USER_AGENT}`,
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

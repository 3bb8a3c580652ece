import { expect, test } from 'vitest'
import { failedBrowserTests, failedVitests } from './failedTests'

test('each failed test is a line with what it said, and so is a file that could not be run', () => {
  const testResults = [
    {
      name: '/anywhere/tests/integration/sites.test.ts',
      status: 'failed',
      assertionResults: [
        { fullName: 'a site is made', status: 'passed', failureMessages: [] },
        {
          fullName: 'a site is deleted',
          status: 'failed',
          failureMessages: ['\u001b[31mexpected 1\u001b[39m to be 2\n at x'],
        },
      ],
    },
    { name: '/anywhere/core/money.test.ts', status: 'failed', message: 'Cannot find module', assertionResults: [] },
    { name: '/anywhere/core/time.test.ts', status: 'passed', assertionResults: [] },
  ]
  expect(failedVitests({ numPassedTests: 1, numFailedTests: 1, testResults })).toEqual([
    'tests/integration/sites.test.ts › a site is deleted › expected 1 to be 2',
    'core/money.test.ts › Cannot find module',
  ])
})

test('of browser tests those that passed at a second try have failed, too', () => {
  const spec = (title: string, status: string, message?: string) => ({
    title,
    ok: status !== 'unexpected',
    tests: [{ status, results: [{ error: message ? { message } : undefined }, {}] }],
  })
  const file = 'tests/browser/sheet.test.ts'
  const suites = [
    { file, specs: [spec('opens', 'expected'), spec('saves', 'flaky', 'Timed out')], suites: [] },
    { file, suites: [{ file, specs: [spec('undoes', 'unexpected', 'Not visible')] }] },
  ]
  expect(failedBrowserTests({ suites })).toEqual([
    'tests/browser/sheet.test.ts › saves › Timed out',
    'tests/browser/sheet.test.ts › undoes › Not visible',
  ])
})

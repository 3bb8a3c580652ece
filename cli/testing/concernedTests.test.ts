import { readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { concernedTests } from './concernedTests'

const there = ['integration', 'browser'].flatMap((kind) =>
  readdirSync(`tests/${kind}`).flatMap((file) => (file.endsWith('.test.ts') ? [file.replace('.test.ts', '')] : [])),
)
const foldersOf = (path: string) =>
  readdirSync(path)
    .map((name) => join(path, name))
    .filter((each) => statSync(each).isDirectory())
const folders = [
  ...['core', 'delivery', 'shared', 'server', 'app', 'demo'].flatMap(foldersOf),
  ...['server/services', 'app/components'].flatMap(foldersOf),
].filter((path) => !['server/services', 'server/api', 'app/components', 'app/pages'].includes(path))

test('every folder with a subject has tests that are there', () => {
  for (const folder of folders) {
    const tests = concernedTests([`${folder}/file.ts`])
    expect({ folder, tests, missing: tests.filter((name) => !there.includes(name)) }).toEqual({
      folder,
      tests: expect.arrayContaining([expect.any(String)]),
      missing: [],
    })
  }
})

test('a change concerns the tests of its subjects, those that it changes, and no others', () => {
  expect(concernedTests(['core/factors/combinations.ts'])).toEqual(['multivariate'])
  expect(concernedTests(['server/api/sites/[site]/surveys/index.get.ts'])).toContain('surveys')
  expect(concernedTests(['tests/browser/loop.test.ts', 'core/factors/combinations.test.ts', 'docs/sheet.md'])).toEqual([
    'loop',
  ])
})

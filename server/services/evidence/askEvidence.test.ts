import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { openEvidenceThread } from './askEvidence'

/** A thread that never answers for site 1, breaks for site 2, and tells how many questions it has had for others. */
const THREAD = `
  let had = 0
  export default function answer({ call: { siteId }, progress }) {
    progress.postMessage(null)
    had++
    if (siteId === 1) for (;;);
    if (siteId === 7) {
      for (let said = 1; said <= 6; said++) setTimeout(() => progress.postMessage(null), said * 150)
      return new Promise((read) => setTimeout(() => read({ value: 'read' }), 1000))
    }
    if (siteId === 2) setTimeout(() => { throw new Error('It breaks.') })
    return siteId === 2 ? new Promise(() => {}) : { value: had }
  }`

test('a question that never ends is given up, and so is one that breaks; those behind it are answered by a new thread', async () => {
  const file = join(mkdtempSync(join(tmpdir(), 'thread-')), 'thread.mjs')
  writeFileSync(file, THREAD)
  const thread = openEvidenceThread(file, 'postgres://nowhere', 500)
  const ask = (siteId: number) =>
    thread.ask(siteId, 'pages', {} as never).then(
      (value: unknown) => value,
      (error: Error) => error.message,
    )
  expect(await Promise.all([ask(3), ask(1), ask(4), ask(5), ask(2), ask(6), ask(7)])).toEqual([
    1,
    'The report takes too long. Ask for fewer days.',
    1,
    2,
    'The report was interrupted. Ask again.',
    1,
    'read',
  ])
})

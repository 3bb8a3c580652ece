import { expect, test } from 'vitest'
import { repeatedIdeas, type Idea } from './sameIdea'

const LATER: Idea = { title: 'Ask later', pages: 'is:/book', metric: 'm-1' }

test('an idea is repeated where title, pages, audience and metric say the same, whatever the capitals and spaces', () => {
  const list = [
    LATER,
    { ...LATER, title: ' ASK  later' },
    { ...LATER, pages: null },
    { ...LATER, audience: 'device:phone' },
  ]
  expect(repeatedIdeas(list, [])).toEqual([{ row: 1, of: 0 }])
  expect(repeatedIdeas([{ title: 'New' }, null, { title: 'new', audience: null }], [])).toEqual([{ row: 2, of: 0 }])
})

test('what is known already is repeated by each row that says it', () => {
  expect(repeatedIdeas([LATER, { ...LATER, metric: 'm-2' }, LATER], [LATER])).toEqual([
    { row: 0, of: null },
    { row: 2, of: null },
  ])
})

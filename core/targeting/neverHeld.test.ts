import { expect, test } from 'vitest'
import type { Group } from './condition'
import { neverHeld, tallyPast, testTallies } from './neverHeld'
import type { Past } from './replay'

const past = (path: string, ...events: string[]): Past => ({
  views: [
    { id: path, session: 's', at: 1000, address: `https://kc.test${path}`, isTested: true, facts: { referrer: '' } },
    { id: `${path}2`, session: 's', at: 3000, address: 'https://kc.test/', isTested: true, facts: { referrer: '' } },
  ],
  events: events.map((name) => ({ name, at: 2000 })),
  siteTimeZone: 'UTC',
})

test('a test that held for nobody is told with what most visitors had instead, wherever it stands', () => {
  const audience: Group = {
    join: 'all',
    of: [
      { fact: 'source', is: 'oneOf', texts: ['mail'] },
      { fact: 'source', is: 'oneOf', texts: ['newsletter'] },
      { join: 'none', of: [{ fact: 'did', name: 'ordered', is: 'least', number: 1 }] },
      { fact: 'did', name: 'finder', is: 'least', number: 1 },
      { fact: 'attribute', name: 'plan', is: 'known' },
      { fact: 'date', is: 'least', number: 20990101 },
    ],
  }
  const tallies = testTallies(audience, ['attribute'])
  tallyPast(tallies, past('/?utm_source=mail', 'order', 'finder'))
  tallyPast(tallies, past('/?utm_source=news', 'order'))
  tallyPast(tallies, past(`/?utm_source=news`, `${'x'.repeat(60)}`))
  expect(neverHeld(tallies).map(({ test, found }) => [test.name ?? test.texts, found])).toEqual([
    [['newsletter'], ['news', 'mail']],
    ['ordered', ['order', 'finder', `${'x'.repeat(40)}…`]],
  ])
})

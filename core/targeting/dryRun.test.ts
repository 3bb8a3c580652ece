import { expect, test } from 'vitest'
import type { Group } from './condition'
import { dryRun, type DryRunThing } from './dryRun'
import { factsOfPersona, linesOfValues, valuesOfLines } from './persona'
import { replayTerms, type Past, type PastView } from './replay'
import { DAY } from '../time/units'

const NOW = Date.UTC(2026, 10, 26)
const phones: Group = { join: 'all', of: [{ fact: 'device', is: 'oneOf', texts: ['phone'] }] }
const thing = (id: number, more: Partial<DryRunThing> = {}): DryRunThing => ({
  id,
  pages: [{ match: 'exact', value: '/' }],
  audience: null,
  salt: `salt-${id}`,
  share: 10_000,
  weights: [1, 1],
  ...more,
})

test('a made-up visitor is told what they would get of each thing, with the traces of its conditions', () => {
  const facts = factsOfPersona({ device: 'desktop' }, { now: NOW, address: 'https://kc.test/' })
  const answers = dryRun(
    [
      thing(1, { group: { members: [1, 2] }, weights: [0, 1] }),
      thing(2, { group: { members: [1, 2] } }),
      thing(3, { audience: phones }),
      thing(4, { activation: { on: 'event', name: 'basket' }, weights: [1] }),
      thing(5, { weights: undefined }),
    ],
    'persona',
    facts,
  )
  expect(answers.map(({ reason, variant }) => [reason, variant])).toEqual([
    [null, 1],
    ['group', null],
    ['audience', null],
    ['waits', 0],
    [null, null],
  ])
  expect(answers[2]!.trace).toMatchObject({ holds: false, of: [{ holds: false, found: 'desktop', problem: null }] })
})

test('what is typed of a persona is what browsers would know', () => {
  const facts = factsOfPersona(
    { visits: 2, daysSinceFirst: 3, events: [{ name: 'order', daysAgo: 2 }], pages: [{ address: 'a', daysAgo: 1 }] },
    { now: NOW, address: 'https://kc.test/book' },
  )
  expect(facts).toMatchObject({ landing: 'https://kc.test/book', referrer: '', firstSeen: NOW - 3 * DAY })
  expect(facts.events).toEqual([{ name: 'order', at: NOW - 2 * DAY }])
  const typed = 'plan = gold\nseats = 4\nmember = yes\ncode = "12"\ntags = [a, 2]\nempty ='
  const values = { plan: 'gold', seats: 4, member: true, code: '12', tags: ['a', 2], empty: '' }
  expect(valuesOfLines(typed)).toEqual(values)
  expect(valuesOfLines(linesOfValues(values))).toEqual(values)
  expect(() => valuesOfLines('plan gold')).toThrow('“plan gold” is no line')
})

const past = (paths: string[]): Past => ({
  views: paths.map((path, index): PastView => ({
    id: String(index),
    session: 'one',
    at: NOW + index,
    address: `https://kc.test${path}`,
    isTested: true,
    facts: { device: 'phone', attributes: { plan: 'gold' } },
  })),
  events: [],
  siteTimeZone: 'UTC',
})

test('a visitor of the past gets a thing on the first view where all is asked for, else the reason that was left', () => {
  const replay = (paths: string[], more: Partial<DryRunThing>) =>
    replayTerms(thing(1, more), 'v', past(paths), () => true)
  const gold: Group = { join: 'all', of: [{ fact: 'attribute', name: 'plan', is: 'oneOf', texts: ['gold'] }] }
  expect(replay(['/book', '/', '/'], { audience: gold, weights: [0, 1] })).toMatchObject({
    entered: { id: '1' },
    variant: 1,
    reason: null,
  })
  expect(replay(['/book'], {})).toMatchObject({ entered: null, reason: 'page' })
  const none: Group = { join: 'none', of: phones.of }
  expect(replay(['/book', '/'], { audience: none })).toMatchObject({ entered: null, reason: 'audience' })
  expect(replay(['/'], { holdouts: [{ salt: 'h', share: 10_000 }] }).reason).toBe('holdout')
  expect(replay(['/', '/book'], { share: 0 }).reason).toBe('share')
})

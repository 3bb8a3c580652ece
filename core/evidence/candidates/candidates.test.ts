import { expect, test } from 'vitest'
import { seededUniform } from '../../random/seededUniform'
import { FIELD_SEPARATOR } from '../formReport'
import { selectSessions } from '../selection'
import { Visits, type Step } from '../visits'
import { findCandidates } from './candidates'
import { DAY } from '../../time/units'

const uniform = seededUniform(3)
const ALL_OF = { segment: [], page: null }

interface World {
  /** Times as long on phones in the field `length`. */
  slower: number
  /** Share of phones that leave at it. */
  leaving: number
  /** Share of clicks on the picture that do nothing. */
  dead: number
  /** Share of sessions that end on /help, then and now. */
  exits: [number, number]
}

/** Two weeks of a small site, of which the second is looked at. */
function look({ slower, leaving, dead, exits }: World) {
  const visits = new Visits('site.example')
  for (let index = 0; index < 1600; index++) {
    const isPhone = uniform() < 0.5
    const isNow = uniform() < 0.5
    const visitor = `v${index}`
    let at = (isNow ? 7 : 0) * DAY + uniform() * 6 * DAY
    const add = (step: Partial<Step>) =>
      visits.add({ visitor, session: 's', at: (at += 1000), kind: 'page', address: 'https://site.example/', ...step })
    add({
      address: 'https://site.example/book',
      circumstances: [isPhone ? 'phone' : 'desktop', ...Array(13).fill(null)],
    })
    const book = { address: 'https://site.example/book' }
    add({ ...book, kind: 'reading', value: 100 })
    const fields = ['day', 'length'].map((name) => ({ name, label: name, kind: 'text' }))
    add({ ...book, kind: 'form', element: 'form', name: 'booking', extra: { fields } })
    const stay = (scale: number) => Math.round(500 - Math.log(1 - uniform()) * scale)
    const field = (name: string, x: number) =>
      add({
        ...book,
        kind: 'field',
        element: `form>input#${name}`,
        label: name,
        name: `booking${FIELD_SEPARATOR}${name}`,
        x,
      })
    field('day', stay(3000))
    field('length', stay(3000) * (isPhone ? slower : 1))
    const leaves = uniform() < (isPhone ? leaving : 0.1)
    if (!leaves) add({ ...book, kind: 'submit', element: 'form' })
    add({ ...book, kind: 'click', element: 'body>a#help', label: 'Help' })
    if (uniform() < 0.3) {
      add({ ...book, kind: 'click', element: 'body>img.scene' })
      if (uniform() < dead) add({ ...book, kind: 'dead', element: 'body>img.scene' })
    }
    add({ address: 'https://site.example/help' })
    if (uniform() > exits[isNow ? 1 : 0]) add({ address: 'https://site.example/' })
  }
  visits.blocks()
  const now = selectSessions(visits, { ...ALL_OF, from: 7 * DAY, until: 14 * DAY })
  const before = selectSessions(visits, { ...ALL_OF, from: 0, until: 7 * DAY })
  return findCandidates(visits, now, before)
}

test('what was built in is pointed at, and nothing else', () => {
  const found = look({ slower: 5, leaving: 0.5, dead: 0.9, exits: [0.3, 0.5] })
  expect(found.slowFields.map(({ page, form, field }) => [page, form, field])).toEqual([['/book', 'booking', 'length']])
  const [slow] = found.slowFields
  expect(slow!.median / slow!.otherMedian).toBeGreaterThan(3)
  expect(found.leftFields.map(({ field }) => field)).toEqual(['length'])
  expect(found.leftFields[0]!.marked.count / found.leftFields[0]!.marked.of).toBeGreaterThan(0.4)
  expect(found.deadElements.map(({ page, element }) => [page, element])).toEqual([['/book', 'picture']])
  expect(found.risingExits.map(({ page }) => page)).toEqual(['/help'])
  for (const { falseAlarms } of found.rules) expect(falseAlarms.alarms / falseAlarms.rounds).toBeLessThan(0.1)
})

test('a site with nothing in it is left in peace', () => {
  let alarms = 0
  for (let site = 0; site < 12; site++) {
    const { slowFields, leftFields, deadElements, risingExits } = look({
      slower: 1,
      leaving: 0.1,
      dead: 0,
      exits: [0.3, 0.3],
    })
    if ([...slowFields, ...leftFields, ...deadElements, ...risingExits].length > 0) alarms++
  }
  // Three rules at 5 % each would speak on two of twelve sites; that their differences must be large makes it fewer.
  expect(alarms).toBeLessThanOrEqual(3)
})

test('habits of visitors who come several times are no rising exits', () => {
  let alarms = 0
  const rounds = 40
  for (let round = 0; round < rounds; round++) {
    const visits = new Visits('site.example')
    for (const begins of [0, 7 * DAY])
      for (let index = 0; index < 150; index++) {
        // Each leaves here in nearly all of their sessions, or in nearly none.
        const leaving = uniform() < 0.35 ? 0.95 : 0.05
        for (let session = 0; session < 4; session++) {
          const step = { visitor: `v${begins}-${index}`, session: `s${begins}-${session}`, kind: 'page' } as const
          const at = begins + session * DAY + uniform() * DAY
          visits.add({ ...step, at, address: 'https://site.example/help', circumstances: Array(14).fill(null) })
          if (uniform() > leaving) visits.add({ ...step, at: at + 1000, address: 'https://site.example/' })
        }
      }
    visits.blocks()
    const now = selectSessions(visits, { ...ALL_OF, from: 7 * DAY, until: 14 * DAY })
    const before = selectSessions(visits, { ...ALL_OF, from: 0, until: 7 * DAY })
    if (findCandidates(visits, now, before).risingExits.length > 0) alarms++
  }
  expect(alarms / rounds).toBeLessThanOrEqual(0.1)
})

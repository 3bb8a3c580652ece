import { expect, test } from 'vitest'
import { simulateHistory, type History } from '../data/simulateHistory'
import { fare, CROSSINGS } from '../site/crossings'

const until = new Date(Date.UTC(2026, 3, 1, 12))
const history: History = {
  siteId: 1,
  origin: 'http://demo.test',
  experiments: [
    {
      id: 5,
      salt: 'kc-island-headline',
      share: 10_000,
      weights: [1, 1],
      pages: [{ match: 'exact', value: '/' }],
      edits: [],
      from: 0,
      until: Number.POSITIVE_INFINITY,
    },
  ],
  until,
  days: 60,
  visitors: 12_000,
  seed: 3,
}

test('the same seed draws the same visitors', () => {
  const few = { ...history, visitors: 50 }
  expect([...simulateHistory(few)]).toEqual([...simulateHistory(few)])
  expect([...simulateHistory(few)]).not.toEqual([...simulateHistory({ ...few, seed: 4 })])
})

test('what was put in can be found: the variant brings more bookings, phones fewer, and nothing lies in the future', () => {
  const sent = [0, 0]
  const toBook = [0, 0]
  const reached = { phone: [0, 0], desktop: [0, 0] }
  for (const rows of simulateHistory(history)) {
    expect(
      rows.every(
        ({ occurredAt }) => occurredAt <= until && occurredAt.getTime() > until.getTime() - 61 * 24 * 3_600_000,
      ),
    ).toBe(true)
    const exposure = rows.find(({ type }) => type === 'exposure')
    if (exposure) {
      sent[exposure.variant!]!++
      if (rows.some(({ selectors }) => selectors?.includes('#find'))) toBook[exposure.variant!]!++
    }
    const device = rows[0]?.properties?.device
    if ((device === 'phone' || device === 'desktop') && rows.some(({ address }) => address.endsWith('/book'))) {
      reached[device][0]!++
      if (rows.some(({ address }) => address.endsWith('/book/travelers'))) reached[device][1]!++
    }
  }
  const lift = toBook[1]! / sent[1]! / (toBook[0]! / sent[0]!) - 1
  expect(lift).toBeGreaterThan(0.3)
  expect(lift).toBeLessThan(0.7)
  expect(reached.phone[1]! / reached.phone[0]!).toBeLessThan(reached.desktop[1]! / reached.desktop[0]! - 0.1)
})

test('a longer vehicle costs more from five meters on', () => {
  const party = { adults: 1, children: 0, vehicleMeters: 0 }
  const crossing = CROSSINGS[0]!
  expect(fare(crossing, party)).toBe(9.5)
  expect(fare(crossing, { ...party, vehicleMeters: 5 })).toBe(37.5)
  expect(fare(crossing, { ...party, vehicleMeters: 5.1 })).toBe(43.5)
})

import { expect, test } from 'vitest'
import { timeOfId } from '../../core/identity/timeOrderedId'
import { collect } from '../../server/intake/collect'
import { openPlaces } from '../../server/intake/place'
import { createTrafficLimits } from '../../server/intake/trafficLimits'
import type { Arrival } from '../../server/intake/writeArrivals'
import { CROSSINGS_SURVEY } from '../data/survey'
import { simulateHistory, type History, type SimulatedVisit } from '../data/simulateHistory'
import { BEHAVIOR_TYPES, SURVEY_TYPES } from '../../core/evidence/behavior'
import { fare, CROSSINGS } from '../site/crossings'
import { ELEMENTS } from './elements'
import { CROSSINGS_POPULATION } from './population'
import { DAY } from '../../core/time/units'

const until = new Date(Date.UTC(2026, 3, 1, 12))
const history: History = {
  origin: 'http://demo.test',
  rollouts: [],
  experiments: [
    {
      id: 5,
      salt: 'kc-island-headline',
      share: 10_000,
      weights: [1, 1],
      pages: [{ match: 'exact', value: '/' }],
      from: 0,
      until: Number.POSITIVE_INFINITY,
    },
  ],
  population: CROSSINGS_POPULATION,
  behavior: { salt: 'behavior', share: 3000 },
  survey: { id: 7, salt: 'survey-7', from: 0, ...CROSSINGS_SURVEY.content, share: 10_000 },
  until,
  days: 60,
  visitors: 12_000,
  seed: 3,
}
const pathsOf = ({ pages }: SimulatedVisit) => pages.map(({ view }) => new URL(view.address).pathname)

test('the same seed draws the same visitors', () => {
  const few = { ...history, visitors: 50 }
  expect([...simulateHistory(few)]).toEqual([...simulateHistory(few)])
  expect([...simulateHistory(few)]).not.toEqual([...simulateHistory({ ...few, seed: 4 })])
})

test('what came before the day of the load is the same whatever its hour', () => {
  const few = { ...history, visitors: 200 }
  const midnight = Date.UTC(2026, 3, 1)
  const before = (hour: number) =>
    [...simulateHistory({ ...few, until: new Date(midnight + hour * 3_600_000) })]
      .flat()
      .map(({ pages }) => pages.filter(({ view }) => timeOfId(view.id) < midnight - DAY))
      .filter((pages) => pages.length > 0)
  expect(before(7)).toEqual(before(21))
})

test('what was put in can be found: the variant brings more bookings, phones fewer, and nothing lies in the future', () => {
  const sent = [0, 0]
  const toBook = [0, 0]
  const reached = { phone: [0, 0], desktop: [0, 0], tablet: [0, 0] }
  for (const visit of [...simulateHistory(history)].flat()) {
    const { pages, visitor } = visit
    const times = pages.flatMap(({ view, events }) => [view, ...events]).map(({ id }) => timeOfId(id))
    expect(times.every((at) => at <= until.getTime() && at > until.getTime() - 61 * DAY)).toBe(true)
    const events = pages.flatMap((page) => page.events)
    const exposure = events.find(({ type }) => type === 'exposure')
    if (exposure && !visitor.isRobot) {
      sent[exposure.variant!]!++
      if (events.some(({ element }) => element === ELEMENTS.find.element)) toBook[exposure.variant!]!++
    }
    if (!pathsOf(visit).includes('/book')) continue
    reached[visitor.device][0]!++
    if (pathsOf(visit).includes('/book/travelers')) reached[visitor.device][1]!++
  }
  const lift = toBook[1]! / sent[1]! / (toBook[0]! / sent[0]!) - 1
  expect(lift).toBeGreaterThan(0.3)
  expect(lift).toBeLessThan(0.7)
  expect(reached.phone[1]! / reached.phone[0]!).toBeLessThan(reached.desktop[1]! / reached.desktop[0]! - 0.1)
})

test('what simulated browsers send is what intake takes from real ones', async () => {
  const written: Arrival[] = []
  const limits = createTrafficLimits()
  const findPlace = await openPlaces({ country: '', city: '', hasMadeUp: true })
  const few = [...simulateHistory({ ...history, visitors: 400 })].flat().filter(({ pages }) => pages.length > 0)
  for (const { visitor, pages } of few) {
    const events = pages.flatMap((page) => page.events)
    const sent = Math.max(...pages.map(({ view }) => timeOfId(view.id))) + 60_000
    const body = JSON.stringify({ key: 'demo', sent, views: pages.map(({ view }) => view), events })
    const { reply } = await collect(
      {
        body,
        origin: history.origin,
        address: visitor.address,
        userAgent: visitor.userAgent,
        receivedAt: new Date(sent),
      },
      {
        findSite: async () => ({
          id: 1,
          address: history.origin,
          currency: 'EUR',
          largestAmount: 100_000,
          hasReported: true,
          recordingShare: 0,
          personKey: null,
          hosts: [],
          ownNetworks: [],
          parameters: new Set(['ref', 'utm_source', 'utm_campaign']),
          attributes: new Set<string>(),
          eventDetails: new Set<string>(),
          assignments: new Map(history.experiments.map((each) => [each.id, each])),
        }),
        write: async (arrival) => (written.push(arrival), new Set()),
        isKnownVisitor: async () => true,
        limits,
        findPlace,
        hashNetwork: () => 'network',
      },
    )
    expect(reply).toEqual({ accepted: pages.length + events.length, refused: [] })
  }
  const views = written.flatMap((arrival) => arrival.views)
  const events = written.flatMap((arrival) => arrival.events)
  expect(new Set(events.map(({ type }) => type))).toEqual(
    new Set(['exposure', 'click', 'submit', 'amount', 'error', ...BEHAVIOR_TYPES, ...SURVEY_TYPES]),
  )
  expect(new Set(views.map(({ device }) => device))).toEqual(new Set(['phone', 'tablet', 'desktop', 'other']))
  expect(views.every(({ country }) => country !== null)).toBe(true)
  expect(views.filter(({ isRobot }) => isRobot).length).toBeGreaterThan(0)
  const orders = events.filter(({ type }) => type === 'amount')
  expect(new Set(orders.map(({ once }) => once)).size).toBeLessThan(orders.length)
})

test('a longer vehicle costs more from five meters on', () => {
  const party = { adults: 1, children: 0, vehicleMeters: 0 }
  const crossing = CROSSINGS[0]!
  expect(fare(crossing, party)).toBe(9.5)
  expect(fare(crossing, { ...party, vehicleMeters: 5 })).toBe(37.5)
  expect(fare(crossing, { ...party, vehicleMeters: 5.1 })).toBe(43.5)
})

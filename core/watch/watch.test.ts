import { describe, expect, test } from 'vitest'
import { drawsFrom } from '../random/draws'
import { seededUniform } from '../random/seededUniform'
import { probabilityOfAtLeast, probabilityOfAtMost, shareOfAtLeast } from '../statistics/countTails'
import { alarmTurns, type OpenAlarm } from './alarmTurns'
import { experimentFindings, type WatchedExperiment } from './experiment'
import type { HourlySums } from './hourlySums'
import { siteFindings, type WatchedSite } from './site'
import { trafficFindings } from './traffic'

test('tails of counts are those of their distributions', () => {
  // Poisson, by hand.
  expect(probabilityOfAtMost(2, { mean: 3, spread: 0 })).toBeCloseTo(Math.exp(-3) * (1 + 3 + 4.5), 5)
  expect(probabilityOfAtLeast(3, { mean: 3, spread: 0 })).toBeCloseTo(1 - Math.exp(-3) * (1 + 3 + 4.5), 5)
  // A mean that varies like an exponential distribution makes counts geometric.
  expect(probabilityOfAtMost(0, { mean: 4, spread: 1 })).toBeCloseTo(1 / 5, 10)
  expect(probabilityOfAtLeast(2, { mean: 4, spread: 1 })).toBeCloseTo(0.8 ** 2, 10)
  expect(shareOfAtLeast(3, 4, 0.5)).toBeCloseTo(5 / 16, 10)
  expect(probabilityOfAtLeast(0, { mean: 4, spread: 1 })).toBe(1)
})

/** Five weeks of hours with a daily and a weekly rhythm. */
function weeks(random = seededUniform(1), perHour = 40): number[] {
  const draws = drawsFrom(random)
  return Array.from({ length: 5 * 168 }, (_, hour) => {
    const rhythm = (1 + 0.8 * Math.sin((hour % 24) / 3.82)) * (Math.floor(hour / 24) % 7 < 5 ? 1 : 0.6)
    const mean = perHour * Math.max(0.05, rhythm)
    return Math.max(0, Math.round(draws.normal(mean, Math.sqrt(mean))))
  })
}
const kinds = (found: readonly { check: string; cause: string }[]) =>
  found.map(({ check, cause }) => `${check} ${cause}`)

describe('visits of a site', () => {
  test('are judged by what the hour of the week brings', () => {
    const usual = weeks()
    expect(trafficFindings(usual)).toEqual([])
    // Two hours without a visit by day are found, whatever the night before was.
    expect(kinds(trafficFindings([...usual.slice(0, 830), 0, 0]))).toEqual(['traffic few'])
    const tenfold = usual.map((each, hour) => (hour >= usual.length - 3 ? 10 * each + 50 : each))
    expect(kinds(trafficFindings(tenfold))).toEqual(['traffic many'])
    expect(trafficFindings(usual.slice(0, 160))).toEqual([])
  })

  test('a site with two visits an hour is called quiet only after many hours', () => {
    const few = weeks(seededUniform(3), 2)
    const silentFor = (count: number) => [...few.slice(0, -count), ...new Array<number>(count).fill(0)]
    expect(trafficFindings(silentFor(3))).toEqual([])
    expect(kinds(trafficFindings(silentFor(24)))).toEqual(['traffic few'])
  })
})

const ARMS = [
  { name: 'Control', weight: 1 },
  { name: 'B', weight: 1 },
]
/** Ten days of an experiment by hour, of what each hour brings. */
function watched(change: (hour: number, each: HourlySums) => HourlySums = (_, each) => each): WatchedExperiment {
  const draws = drawsFrom(seededUniform(8))
  const sums: HourlySums[] = [{ visits: 0, visitors: [0, 0], timed: [0, 0], late: [0, 0], active: { m: [0, 0] } }]
  for (let hour = 0; hour < 240; hour++) {
    const visitors = [0, 1].map(() => draws.binomial(100, 0.2))
    const active = visitors.map((count) => draws.binomial(count, 0.2))
    const timed = visitors
    const late = visitors.map((count) => draws.binomial(count, 0.1))
    const of = change(hour, { visits: 100, visitors, timed, late, active: { m: active } })
    const before = sums.at(-1)!
    const plus = (a: readonly number[], b: readonly number[]) => a.map((each, arm) => each + b[arm]!)
    sums.push({
      visits: of.visits,
      visitors: plus(before.visitors, of.visitors),
      timed: plus(before.timed, of.timed),
      late: plus(before.late, of.late),
      active: { m: plus(before.active.m!, of.active.m!) },
    })
  }
  return { arms: ARMS, metrics: [{ id: 'm', name: 'Booked' }], visitors: sums.at(-1)!.visitors, sums, erring: [3, 4] }
}
const lately = (from: number, change: (each: HourlySums) => Partial<HourlySums>) =>
  watched((hour, each) => (hour >= from ? { ...each, ...change(each) } : each))

describe('a running experiment', () => {
  test('that is sound gives no alarm', () => {
    expect(experimentFindings(watched())).toEqual([])
  })

  test.each<[string, WatchedExperiment, string[]]>([
    ['the page lost the line', lately(238, () => ({ visitors: [0, 0], active: { m: [0, 0] } })), ['visitors few']],
    [
      'one variant is not reached any more',
      lately(210, ({ visitors }) => ({ visitors: [visitors[0]!, 0] })),
      ['split split', 'variant 1'],
    ],
    ['a metric has gone silent', lately(232, () => ({ active: { m: [0, 0] } })), ['metric m']],
    [
      'a metric is counted twice in all variants',
      lately(216, ({ active }) => ({ active: { m: active.m!.map((count) => 2 * count + 2) } })),
      ['metric m'],
    ],
    [
      'the events of one variant are lost',
      lately(200, ({ active }) => ({ active: { m: [active.m![0]!, 0] } })),
      ['metric m 1'],
    ],
    [
      'changes show late since yesterday',
      lately(216, ({ timed }) => ({ late: timed.map((count) => Math.round(count * 0.4)) })),
      ['late all'],
    ],
    [
      'one variant has shown late from the beginning',
      lately(0, ({ timed, late }) => ({ late: [late[0]!, Math.round(timed[1]! * 0.5)] })),
      ['late 1'],
    ],
    ['scripts fail in a variant', { ...watched(), erring: [3, 40] }, ['errors 1']],
  ])('where %s', (_, experiment, found) => {
    expect(kinds(experimentFindings(experiment))).toEqual(found)
  })

  test('an effect in one variant is no fault, and neither are errors of all', () => {
    const effect = lately(100, ({ active }) => ({ active: { m: [active.m![0]!, 2 * active.m![1]!] } }))
    expect(experimentFindings(effect)).toEqual([])
    const harm = lately(100, ({ active }) => ({ active: { m: [active.m![0]!, Math.floor(active.m![1]! / 3)] } }))
    expect(experimentFindings(harm)).toEqual([])
    expect(experimentFindings({ ...watched(), erring: [400, 420] })).toEqual([])
    // A page that was always slow is no news, and neither is a variant that is a little slower.
    const slow = lately(0, ({ timed }) => ({ late: [Math.round(timed[0]! * 0.4), Math.round(timed[1]! * 0.55)] }))
    expect(experimentFindings(slow)).toEqual([])
  })

  test('that is served to all has no split to look at, and everything else of it is looked at', () => {
    const served = lately(232, () => ({ active: { m: [0, 0] } }))
    const [control, other] = served.arms
    const all = { ...served, arms: [{ ...control!, weight: 0 }, other!] }
    expect(kinds(experimentFindings(all))).toEqual(['metric m'])
  })

  test('a site without visits explains an experiment without visitors', () => {
    const quiet = lately(216, () => ({ visits: 0, visitors: [0, 0], active: { m: [0, 0] } }))
    expect(experimentFindings(quiet)).toEqual([])
  })
})

describe('how things come in', () => {
  const sound: WatchedSite = {
    visits: [],
    delay: 0,
    refused: { today: 0, before: 0 },
    taken: { today: 1000, before: 7000 },
    arrivals: { lately: { late: 10, all: 1000 }, before: { late: 70, all: 7000 } },
    disk: null,
  }
  const lately = (late: number, before = 70) =>
    siteFindings({ ...sound, arrivals: { lately: { late, all: 1000 }, before: { late: before, all: 7000 } } })

  test('is told where far more is refused, or comes late, than usual', () => {
    expect(siteFindings(sound)).toEqual([])
    expect(kinds(lately(150))).toEqual(['arrivals late'])
    // A site whose visitors are often offline, and a few late views.
    expect(lately(150, 400)).toEqual([])
    expect(lately(99)).toEqual([])
    expect(kinds(siteFindings({ ...sound, refused: { today: 150, before: 70 } }))).toEqual(['refused refused'])
    expect(siteFindings({ ...sound, refused: { today: 150, before: 500 } })).toEqual([])
  })

  test('waits with what is missing while things wait to be counted', () => {
    const late = siteFindings({ ...sound, delay: 360, refused: { today: 150, before: 70 } })
    expect(late.map(({ text }) => text)).toEqual([
      'What visitors did has waited 6 minutes to be counted. Ask whoever runs Vetch to look at the worker.',
    ])
  })
})

test('one cause is one alarm until it was not found for a while', () => {
  const few = { check: 'traffic', cause: 'few', text: 'Few.' } as const
  const split = { check: 'split', cause: 'split', text: 'Off.' } as const
  const open: OpenAlarm = { ...few, id: 1, lastSeenAt: 1000 }
  expect(alarmTurns([], [few, few, split], 1000, 500).opened).toEqual([few, split])
  expect(alarmTurns([open], [{ ...few, text: 'Fewer.' }], 2000, 500)).toEqual({
    opened: [],
    goOn: [{ id: 1, text: 'Fewer.' }],
    closed: [],
  })
  expect(alarmTurns([open], [], 1400, 500).closed).toEqual([])
  expect(alarmTurns([open], [split], 1500, 500)).toEqual({ opened: [split], goOn: [], closed: [1] })
})

import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { assembleStatement } from './statement'
import { drawsFrom } from '../random/draws'
import { seededUniform } from '../random/seededUniform'
import { correctedLift, DOUBT, drawTowardPast, learnFromPast } from './pastLifts'
import { learningCost } from './learningCost'
import { pert, rangeProblem, type LiftRange } from './pert'
import { rank, rankByScore, weightedScore } from './ranking'
import { worthOf, type IdeaTraffic } from './worth'

const RANGE: LiftRange = { low: 0, likely: 0.1, high: 0.2 }
const TRAFFIC: IdeaTraffic = { days: 28, visitors: 2800, mean: 0.05, deviation: 0.218, unitValue: 60 }
const TERMS = { dayCost: 500, paybackMonths: 6 }

describe('an expectation in three points', () => {
  test('is Beta(3, 3) where the likely one lies in the middle', () => {
    const { mean, variance, cdf } = pert({ low: 0, likely: 0.5, high: 1 })
    expect([mean, cdf(0.5)]).toEqual([0.5, expect.closeTo(0.5, 12)])
    // 10x³ − 15x⁴ + 6x⁵ at ¼, and the variance of Beta(3, 3): 9 / (36 · 7).
    expect(cdf(0.25)).toBeCloseTo(0.103515625, 12)
    expect(variance).toBeCloseTo(9 / 252, 12)
  })

  test('is Beta(1, 5) where the likely one is the lowest', () => {
    const { mean, cdf, quantile } = pert({ low: 0, likely: 0, high: 1 })
    expect(mean).toBeCloseTo(1 / 6, 12)
    expect(cdf(0.3)).toBeCloseTo(1 - 0.7 ** 5, 12)
    expect(quantile(0.1)).toBeCloseTo(1 - 0.9 ** 0.2, 10)
  })

  test('of three equal points is a value without doubt', () => {
    const { mean, variance, cdf, quantile } = pert({ low: 0.1, likely: 0.1, high: 0.1 })
    expect([mean, variance, cdf(0.09), cdf(0.1), quantile(0.9)]).toEqual([0.1, 0, 0, 1, 0.1])
  })

  test.each<[LiftRange, RegExp]>([
    [{ low: 0.2, likely: 0.1, high: 0.05 }, /low lift lies above the high/],
    [{ low: 0.1, likely: 0.05, high: 0.2 }, /likely lift lies below/],
    [{ low: 0.1, likely: 0.3, high: 0.2 }, /likely lift lies above/],
    [{ low: 0.1, likely: NaN, high: 0.2 }, /Give a low/],
  ])('out of order is refused with a sentence: %j', (range, sentence) => {
    expect(rangeProblem(range)).toMatch(sentence)
    expect(() => pert(range)).toThrow(sentence)
  })
})

describe('what an idea is worth', () => {
  test('as computed by hand', () => {
    // 100 visitors a day, 3,043.75 a month, 5 % of them: 152.1875 bookings; a tenth more: 15.21875; each 60.
    const worth = worthOf(TRAFFIC, RANGE, 4, TERMS)
    expect(worth.visitorsAWeek).toBeCloseTo(700, 9)
    expect(worth.unitsAMonth).toBeCloseTo(152.1875, 9)
    expect(worth.gain.expected).toBeCloseTo(15.21875, 9)
    expect(worth.money!.expected).toBeCloseTo(913.125, 9)
    expect(worth.moneyADay).toBeCloseTo(228.28125, 9)
    // 2,000 must come back within six months: a lift of 2000 / (152.1875 · 60 · 6), of which Beta(3, 3) tells.
    const x = 2000 / 54_787.5 / 0.2
    expect(worth.chance).toBeCloseTo(1 - (10 * x ** 3 - 15 * x ** 4 + 6 * x ** 5), 10)
    // Eight of ten cases lie between the tenths.
    const { quantile } = pert(RANGE)
    expect(worth.gain.low).toBeCloseTo(152.1875 * quantile(0.1), 9)
    expect(worth.gain.high).toBeCloseTo(152.1875 * quantile(0.9), 9)
  })

  test('without traffic, or with a rate of zero, is nothing', () => {
    for (const traffic of [
      { ...TRAFFIC, visitors: 0 },
      { ...TRAFFIC, mean: 0 },
    ])
      expect(worthOf(traffic, RANGE, 4, TERMS)).toMatchObject({
        unitsAMonth: 0,
        money: { expected: 0 },
        chance: 0,
        moneyADay: 0,
      })
  })

  test('without effort is worth it whenever it does anything, and has no gain a day', () => {
    const worth = worthOf(TRAFFIC, { low: -0.1, likely: 0, high: 0.1 }, 0, TERMS)
    expect([worth.moneyADay, worth.gainADay]).toEqual([null, null])
    expect(worth.chance).toBeCloseTo(0.5, 10)
    expect(() => worthOf(TRAFFIC, RANGE, -1, TERMS)).toThrow(/zero days or more/)
  })

  test('is told in units alone where a unit has no value', () => {
    const worth = worthOf({ ...TRAFFIC, unitValue: null }, RANGE, 4, TERMS)
    expect(worth).toMatchObject({ money: null, chance: null, moneyADay: null })
    expect(worth.gainADay).toBeCloseTo(15.21875 / 4, 9)
  })
})

describe('what was achieved before', () => {
  const PAST = [0.02, 0.04, 0.12].map((lift) => ({ lift, standardError: 0.02 }))

  test('is what drawing worlds by chance, and weighing them by how well they fit, comes to', () => {
    const draws = drawsFrom(seededUniform(5))
    const sums = { weight: 0, mean: 0, square: 0 }
    for (let world = 0; world < 400_000; world++) {
      const [mean, spread] = [draws.normal(0, 0.02), Math.abs(draws.normal(0, 0.05))]
      const fit = PAST.map(({ lift, standardError }) => {
        const variance = standardError ** 2 + spread ** 2
        return Math.exp(-((lift - mean) ** 2) / variance / 2) / Math.sqrt(variance)
      })
      const weight = fit.reduce((product, each) => product * each, 1)
      sums.weight += weight
      sums.mean += weight * mean
      sums.square += weight * (mean ** 2 + spread ** 2)
    }
    const expected = sums.mean / sums.weight
    const past = learnFromPast(PAST)
    expect(past.mean).toBeCloseTo(expected, 3)
    expect(past.deviation).toBeCloseTo(Math.sqrt(sums.square / sums.weight - expected ** 2), 3)
  })

  test('tells little by few tests, and decides by many', () => {
    const found = (count: number) =>
      learnFromPast(
        Array.from({ length: count }, (_, index) => ({ lift: 0.06 + (index % 2) / 50, standardError: 0.01 })),
      )
    expect(learnFromPast([])).toMatchObject({ count: 0, mean: 0 })
    expect(learnFromPast([{ lift: 0.1, standardError: 0 }])).toEqual(learnFromPast([]))
    expect(found(1).mean).toBeLessThan(0.02)
    expect(found(100).mean).toBeCloseTo(0.07, 2)
    expect(found(100).deviation).toBeLessThan(0.015)
  })

  test('draws an expectation, weak evidence the further, and keeps it in order', () => {
    const past = { count: 5, mean: 0.01, deviation: 0.03 }
    const variance = pert(RANGE).variance
    const weights = (['strong', 'fair', 'weak'] as const).map((strength) => {
      const { range, weight } = drawTowardPast(RANGE, strength, past)
      expect(weight).toBeCloseTo(0.0009 / (0.0009 + variance * DOUBT[strength]), 12)
      expect(pert(range).mean).toBeCloseTo(weight * 0.1 + (1 - weight) * 0.01, 12)
      // The variance of the posterior.
      expect(pert(range).variance).toBeCloseTo(weight * DOUBT[strength] * variance, 12)
      return weight
    })
    expect(weights).toEqual([...weights].sort((a, b) => b - a))
  })
})

describe('what it costs to learn', () => {
  const cost = (changes: Partial<IdeaTraffic> = {}, lift = 0.2, direction: 'up' | 'down' = 'up') =>
    learningCost({ ...TRAFFIC, ...changes }, 'conversion', lift, direction)

  test('half the lift takes four times the visitors, and twice the traffic half the weeks', () => {
    const mean = (lift: number, visitors = 2800) =>
      learningCost({ days: 28, visitors, mean: 10, deviation: 25 }, 'mean', lift, 'up')
    expect(mean(0.1).visitors! / mean(0.2).visitors!).toBeCloseTo(4, 2)
    const weeks = mean(0.1).visitors! / 700
    expect([mean(0.1).weeks, mean(0.1, 5600).weeks]).toEqual([Math.ceil(weeks), Math.ceil(weeks / 2)])
  })

  test('the lift that is seen in four weeks is the one whose test takes four', () => {
    const { visibleLift } = cost()
    expect(cost({}, visibleLift!).visitors! / 2800).toBeCloseTo(1, 2)
    expect(cost({}, visibleLift!).weeks).toBeLessThanOrEqual(5)
  })

  test('never less than two weeks; of what is to fall, a fall is looked for', () => {
    expect(cost({ visitors: 5_000_000 }).weeks).toBe(2)
    expect(cost({}, 0.2, 'down').visitors).not.toBe(cost({}, 0.2, 'up').visitors)
  })

  test('cannot be told without traffic, with a rate of zero or one, or for a lift that cannot be', () => {
    const nothing = { visitors: null, weeks: null, visibleLift: null }
    expect(cost({ visitors: 0 })).toEqual(nothing)
    expect(cost({ mean: 0 })).toEqual(nothing)
    expect(cost({ mean: 1 })).toEqual(nothing)
    expect(cost({ mean: 0.6 }, 0.8)).toMatchObject({ visitors: null, weeks: null })
    expect(cost({}, 0)).toMatchObject({ visitors: null, weeks: null, visibleLift: cost().visibleLift })
    expect(cost({}, -0.1).weeks).toBeNull()
  })
})

describe('the ranking', () => {
  const idea = (
    id: number,
    moneyADay: number | null,
    handPlace: number | null = null,
    gainADay: number | null = null,
  ) => ({
    id,
    moneyADay,
    gainADay,
    handPlace,
  })

  test('the most for a day first, free ones before all, those without value last', () => {
    const order = rank([idea(1, null), idea(2, 50), idea(3, Infinity), idea(4, 90), idea(5, null, null, 3)])
    expect(order.map(({ id }) => id)).toEqual([3, 4, 2, 5, 1])
  })

  test('what was moved by hand stands where it was put, and its computed place stays', () => {
    const order = rank([idea(1, 40), idea(2, 30, 1), idea(3, 20), idea(4, 10, 3)])
    expect(order).toEqual([
      { id: 2, computed: 2, place: 1 },
      { id: 1, computed: 1, place: 2 },
      { id: 4, computed: 4, place: 3 },
      { id: 3, computed: 3, place: 4 },
    ])
  })

  test('nothing is lost or doubled, wherever things were put', () => {
    const ideas = fc.array(
      fc.record({
        moneyADay: fc.option(fc.double({ noNaN: true })),
        handPlace: fc.option(fc.integer({ min: 1, max: 40 })),
      }),
    )
    fc.assert(
      fc.property(ideas, (drawn) => {
        const order = rank(drawn.map((each, index) => ({ ...each, gainADay: null, id: index })))
        expect(order.map(({ id }) => id).sort((a, b) => a - b)).toEqual(drawn.map((_, index) => index))
        expect(order.map(({ computed }) => computed).sort((a, b) => a - b)).toEqual(drawn.map((_, index) => index + 1))
      }),
    )
  })

  test('by scores of the team’s own', () => {
    const criteria = [
      { id: 'reach', name: 'Reach', weight: 2 },
      { id: 'ease', name: 'Ease', weight: 1 },
    ]
    expect(weightedScore(criteria, { reach: 9, ease: 3 })).toBe(7)
    expect(weightedScore(criteria, { reach: 9 })).toBeNull()
    expect(weightedScore([], {})).toBeNull()
    const scored = [
      { id: 1, score: null, handPlace: null },
      { id: 2, score: 4, handPlace: null },
      { id: 3, score: 7, handPlace: null },
    ]
    expect(rankByScore(scored).map(({ id }) => id)).toEqual([3, 2, 1])
  })
})

test.each([
  [
    {},
    'Because we saw that phones leave at the length of the vehicle, we expect that three sizes to choose from on /book for phones will raise bookings, because nobody has a tape measure at hand.',
  ],
  [{ findings: [], pages: '', audience: '', reason: '', metric: '' }, 'We expect that three sizes to choose from.'],
  [
    { findings: ['A.', 'FAQ is missed', 'Nobody scrolls'], direction: 'down' as const },
    'Because we saw that a, FAQ is missed and nobody scrolls, we expect that three sizes to choose from on /book for phones will lower bookings, because nobody has a tape measure at hand.',
  ],
])('a statement is assembled from its parts: %#', (changes, statement) => {
  const parts = {
    findings: ['Phones leave at the length of the vehicle'],
    change: 'Three sizes to choose from. ',

    pages: '/book',
    audience: 'phones',
    metric: 'Bookings',
    direction: 'up' as const,
    reason: 'Nobody has a tape measure at hand.',
  }
  expect(assembleStatement({ ...parts, ...changes })).toBe(statement)
})

/** A team whose ideas are like those of others, which is as sure of them as people are, and tests what it likes best. */
function ideasOfTeam(draws: ReturnType<typeof drawsFrom>) {
  const [standardError, spread] = [0.03, 0.04]
  const idea = () => {
    const truth = draws.normal(0, spread)
    // Half of what people are 80 % sure of holds: the guess is off by twice what they say.
    const said = 0.03
    const guess = truth + draws.normal(0, 2 * said)
    const half = said * Math.sqrt(7)
    return { truth, range: { low: guess - half, likely: guess, high: guess + half } }
  }
  const ideas = Array.from({ length: 24 }, idea).sort((a, b) => b.range.likely - a.range.likely)
  const tested = ideas.slice(0, 5).map(({ truth }) => {
    const lift = draws.normal(truth, standardError)
    return { lift, standardError, ...(lift > 2 * standardError ? { threshold: 2 * standardError } : {}) }
  })
  return { past: learnFromPast(tested), open: ideas.slice(5) }
}

test('of ideas with a chance of so much, about so many pay: also where few tests have ended, and of a team that is too sure', () => {
  const draws = drawsFrom(seededUniform(11))
  const told = Array.from({ length: 300 }, () => ideasOfTeam(draws)).flatMap(({ past, open }) =>
    open.map(({ truth, range }) => {
      const { chance } = worthOf(TRAFFIC, drawTowardPast(range, 'fair', past).range, 1, TERMS)
      const needed = TERMS.dayCost / (152.2 * 60 * TERMS.paybackMonths)
      return { chance: chance!, hasPaid: truth > needed }
    }),
  )
  const share = (list: readonly { hasPaid: boolean }[]) => list.filter(({ hasPaid }) => hasPaid).length / list.length
  for (const [from, to] of [
    [0, 0.2],
    [0.2, 0.4],
    [0.4, 0.6],
    [0.6, 0.8],
  ] as const) {
    const those = told.filter(({ chance }) => chance >= from && chance < to)
    const said = those.reduce((sum, { chance }) => sum + chance, 0) / those.length
    expect(those.length, `chances from ${from}`).toBeGreaterThan(150)
    expect(Math.abs(share(those) - said), `chances from ${from}`).toBeLessThan(0.15)
  }
  // Nearly nothing is nearly certain.
  expect(told.filter(({ chance }) => chance > 0.96).length / told.length).toBeLessThan(0.02)
})

test('lifts of winners are corrected for having been chosen, and others are left as they are', () => {
  const draws = drawsFrom(seededUniform(3))
  const [truth, standardError] = [0.05, 0.04]
  const threshold = 2 * standardError
  const measured = Array.from({ length: 4000 }, () => draws.normal(truth, standardError)).filter(
    (lift) => lift > threshold,
  )
  const mean = (lifts: readonly number[]) => lifts.reduce((sum, lift) => sum + lift, 0) / lifts.length
  // A true lift of 5 % reads as twice as much where it wins.
  expect(mean(measured)).toBeGreaterThan(0.095)
  const corrected = measured.map((lift) => correctedLift({ lift, standardError, threshold }))
  expect(Math.abs(mean(corrected) - truth)).toBeLessThan(0.012)
  expect(correctedLift({ lift: 0.01, standardError })).toBe(0.01)
  expect(correctedLift({ lift: threshold * 1.001, standardError, threshold })).toBe(0)
  expect(correctedLift({ lift: 0.5, standardError, threshold })).toBeCloseTo(0.5, 6)
})

import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { drawsFrom } from '../random/draws'
import { seededUniform } from '../random/seededUniform'
import { sampleSize } from '../statistics/power'
import { compareRules, rehearse, scenariosOf, type RehearsalPlan } from './rehearsal'
import { DECISION_RULES, type DecisionPlan } from './verdict'

const decision: DecisionPlan = {
  smallestLift: 0.1,
  alpha: 0.05,
  rule: 'sequential',
  lossLimit: 0.005,
  leastWeeks: 1,
  longestWeeks: 4,
  plannedVisitors: 60_000,
}
const plan = (more: Partial<RehearsalPlan> = {}): RehearsalPlan => ({
  decision,
  weights: [1, 1],
  primary: { metric: { kind: 'conversion', baseline: 0.1 }, direction: 'up' },
  guardrails: [],
  newVisitors: [2000],
  runs: 300,
  lifts: [0],
  ...more,
})
const run = (more: Partial<RehearsalPlan> = {}, seed = 1) => rehearse(plan(more), drawsFrom(seededUniform(seed)))
/** Four standard errors of a share of the runs. */
const noise = (share: number, runs = 300) => 4 * Math.sqrt((share * (1 - share)) / runs)

test('the same seed gives the same numbers, another seed others', () => {
  expect(run({}, 5)).toEqual(run({}, 5))
  expect(run({}, 5)).not.toEqual(run({}, 6))
})

test('rules that are compared meet the same visitors, and each comes to what it does alone', () => {
  const told: number[] = []
  const compared = compareRules(
    plan(),
    DECISION_RULES,
    () => drawsFrom(seededUniform(1)),
    (share) => told.push(share),
  )
  expect(compared.map(({ rule }) => rule)).toEqual([...DECISION_RULES])
  for (const { rule, scenarios } of compared) expect(scenarios).toEqual(run({ decision: { ...decision, rule } }))
  expect(told).toEqual([...told].sort((a, b) => a - b))
  expect(told.at(-1)).toBeLessThanOrEqual(1)
})

describe('a rehearsal is right as often as its plan promises', () => {
  test('fixed rule at the planned size: ships no lift in half of α, and the smallest worthwhile one with its power', () => {
    const planned = sampleSize(
      { metric: plan().primary.metric, alpha: 0.05, weights: [1, 1], looks: { rule: 'fixed' } },
      0.1,
      0.8,
    ).reduce((sum, count) => sum + count, 0)
    const fixed = { ...decision, rule: 'fixed' as const, plannedVisitors: planned, longestWeeks: 10 }
    const [none, worthwhile] = run({ decision: fixed, lifts: [0, 0.1], runs: 600 }) as [
      ReturnType<typeof run>[0],
      ReturnType<typeof run>[0],
    ]
    expect(none.shares.ship).toBeLessThan(0.025 + noise(0.025, 600))
    expect(worthwhile.shares.ship).toBeGreaterThan(0.8 - noise(0.8, 600))
    expect(worthwhile.shares.ship).toBeLessThan(0.8 + noise(0.8, 600))
    expect(worthwhile.days.half).toBe(Math.ceil(planned / 2000))
  })

  test('sequential rule: seldom wrong without a lift, and sooner the larger the lift', () => {
    const scenarios = run({ lifts: scenariosOf(0.1) })
    expect(scenarios.map(({ lift }) => lift)).toEqual([0, 0.05, 0.1, 0.2])
    expect(scenarios[0]!.shippedWrong).toBeLessThan(0.025 + noise(0.025))
    expect(scenarios[3]!.shares.ship).toBeGreaterThan(0.95)
    expect(scenarios[3]!.days.mean).toBeLessThan(scenarios[2]!.days.mean)
    expect(scenarios[2]!.shippedWrong).toBe(0)
  })

  test.each([1, 2])(
    'spending until the end, %i variants: as seldom wrong, with the power of one look, and sooner',
    (variants) => {
      const weights = [1, ...new Array<number>(variants).fill(1)]
      const metric = plan().primary.metric
      const looks = { rule: 'spending', looks: 8, from: 0.25 } as const
      const planned = sampleSize({ metric, alpha: 0.05, weights, looks }, 0.1, 0.8).reduce(
        (sum, count) => sum + count,
        0,
      )
      const ours = { ...decision, rule: 'spending' as const, plannedVisitors: planned }
      const newVisitors = [planned / 28]
      const runs = 600
      const [none, worthwhile] = run({ decision: ours, weights, newVisitors, runs, lifts: [0, 0.1] }) as [
        ReturnType<typeof run>[0],
        ReturnType<typeof run>[0],
      ]
      expect(none.shippedWrong).toBeLessThan(0.025 + noise(0.025, runs))
      expect(none.shippedWrong).toBeGreaterThan(0.004)
      expect(worthwhile.shares.ship).toBeGreaterThan(0.79 - noise(0.8, runs))
      expect(worthwhile.visitors / planned).toBeLessThan(0.85)
      expect(worthwhile.visitors / planned).toBeGreaterThan(0.6)
    },
  )

  test('“down is better” mirrors “up is better”', () => {
    const [down] = run({ primary: { metric: { kind: 'conversion', baseline: 0.1 }, direction: 'down' }, lifts: [0.2] })
    expect(down!.shares.ship).toBeGreaterThan(0.95)
  })

  test('means, several variants and low risk', () => {
    const mean = { metric: { kind: 'mean', mean: 10, deviation: 25 }, direction: 'up' } as const
    expect(
      run({ primary: mean, lifts: [0.2], decision: { ...decision, plannedVisitors: 56_000 } })[0]!.shares.ship,
    ).toBeGreaterThan(0.9)
    const [several] = run({ weights: [2, 1, 1], lifts: [0.3] })
    expect(several!.shares.ship).toBeGreaterThan(0.9)
    expect(several!.shippedWrong).toBeLessThan(0.05)
    expect(
      run({ decision: { ...decision, rule: 'low-risk' }, lifts: [0.05] })[0]!.shares['ship-low-risk'],
    ).toBeGreaterThan(0.5)
  })
})

test('guardrails that the variants do not change are seldom held to be harmed', () => {
  const [scenario] = run({
    guardrails: [{ name: 'Refunds', limit: 0.01, metric: { kind: 'conversion', baseline: 0.2 }, direction: 'down' }],
  })
  expect(scenario!.shares.harm).toBeLessThan(0.025 + noise(0.025))
})

test('shares add up to one, and no run ends before the least or after the longest run', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...DECISION_RULES),
      fc.integer({ min: 1, max: 3 }),
      fc.double({ min: 0.3, max: 500, noNaN: true }),
      (rule, leastWeeks, daily) => {
        const [scenario] = run({
          decision: { ...decision, rule, leastWeeks, longestWeeks: 3 },
          newVisitors: [daily],
          runs: 10,
        })
        const { distrust } = scenario!.shares
        expect(Object.values(scenario!.shares).reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 12)
        const { open } = scenario!.shares
        const { half, nineTenths } = scenario!.days
        expect([half === null, nineTenths === null]).toEqual([open > 0.5, open > 0.1])
        expect(nineTenths ?? 21).toBeLessThanOrEqual(21)
        if (distrust === 0) expect(scenario!.days.mean).toBeGreaterThanOrEqual(leastWeeks * 7)
      },
    ),
    { numRuns: 20 },
  )
})

test('progress grows to the end, and impossible plans are refused', () => {
  const shares: number[] = []
  rehearse(plan({ lifts: [0, 0.1], runs: 60 }), drawsFrom(seededUniform(1)), (share) => shares.push(share))
  expect(shares).toEqual([...shares].sort((a, b) => a - b))
  expect(shares.at(-1)).toBeGreaterThan(0.9)
  expect(() => run({ newVisitors: [0] })).toThrow('new visitors')
  expect(() => run({ lifts: [9.5] })).toThrow('below 100 %')
})

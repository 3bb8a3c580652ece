import { describe, expect, test } from 'vitest'
import { factorialEffects, type FactorialCell } from './factorial'
import { compareOverTime, trendOfDifference } from './overTime'
import { conversionMoments } from './moments'
import { estimateArm } from './estimate'
import { compareArms } from './compareArms'
import { heterogeneity } from './heterogeneity'
import { expectClose } from '../../tests/expectations'
import reference from './reference/reference.json'

const factors = [
  { name: 'headline', levels: ['plain', 'warm'] },
  { name: 'button', levels: ['top', 'bottom'] },
  { name: 'picture', levels: ['sea', 'ferry', 'none'] },
]
const cell = (levels: string[], visitors: number, mean: number, variance: number): FactorialCell => ({ levels, estimate: { visitors, mean, variance } })

test('effects of three factors agree with weighted least squares of statsmodels', () => {
  const cells = reference.factorial.cells.map(([levels, visitors, mean, variance]) =>
    cell((levels as number[]).map((level, index) => factors[index]!.levels[level]!), visitors as number, mean as number, variance as number),
  )
  const { effects, bestCell } = factorialEffects(factors, cells, 0.05)
  expect(effects.map(({ factors: names, levels }) => `${names.join('×')} ${levels.join('×')}`)).toEqual([
    'headline warm', 'button bottom', 'picture ferry', 'picture none', 'headline×button warm×bottom', 'headline×picture warm×ferry', 'headline×picture warm×none', 'button×picture bottom×ferry', 'button×picture bottom×none',
  ])
  effects.forEach((effect, index) => {
    expectClose(effect.estimate, reference.factorial.estimates[index]!)
    expectClose(effect.standardError, reference.factorial.standardErrors[index]!)
    expectClose(effect.pValue, reference.factorial.pValues[index]!)
  })
  expectClose(bestCell!.fitted, Math.max(...reference.factorial.fitted))
  expect(bestCell!.levels).toEqual({ headline: 'warm', button: 'top', picture: 'none' })
  expectClose(factorialEffects(factors, cells, 0.05, 'down').bestCell!.fitted, Math.min(...reference.factorial.fitted))
})

describe('special designs', () => {
  const two = factors.slice(0, 1)

  test('one factor of two levels is the ordinary comparison, halved', () => {
    const [effect] = factorialEffects(two, [cell(['plain'], 1000, 0.1, 0.09), cell(['warm'], 1200, 0.12, 0.1056)], 0.05).effects
    expectClose(effect!.estimate, 0.01, 1e-9)
    expectClose(effect!.standardError, Math.sqrt(0.09 / 1000 + 0.1056 / 1200) / 2, 1e-9)
  })

  test('half of the cells name what they cannot tell apart', () => {
    const pairs = factors.slice(0, 2)
    const third = { name: 'color', levels: ['pine', 'slate'] }
    // The half where color is the product of the others.
    const half = [['plain', 'top', 'slate'], ['warm', 'bottom', 'slate'], ['plain', 'bottom', 'pine'], ['warm', 'top', 'pine']]
    const { effects } = factorialEffects([...pairs, third], half.map((levels, index) => cell(levels, 1000, 0.1 + index / 100, 0.09)), 0.05)
    expect(effects.map(({ factors: names, aliases }) => [names[0], aliases?.map((alias) => alias.factors.join('×'))])).toEqual([
      ['headline', ['button×color']],
      ['button', ['headline×color']],
      ['color', ['headline×button']],
    ])
  })

  test('a cell that never converted takes the variance of the others; nothing at all says why', () => {
    const { effects } = factorialEffects(two, [cell(['plain'], 1000, 0, 0), cell(['warm'], 1000, 0.01, 0.0099)], 0.05)
    expectClose(effects[0]!.standardError, Math.sqrt((2 * 0.0099) / 1000) / 2, 1e-9)
    expect(factorialEffects(two, [cell(['plain'], 10, 0, 0), cell(['warm'], 10, 0, 0)], 0.05)).toMatchObject({ effects: [], bestCell: null, why: expect.stringContaining('combinations') })
  })
})

test('Cochran’s Q of segments agrees with statsmodels, and needs two', () => {
  const effects = reference.liftPrior.past.map(([estimate, variance]) => ({ estimate: estimate!, standardError: Math.sqrt(variance!) }))
  const { q, degreesOfFreedom, pValue } = heterogeneity([...effects, { estimate: null, standardError: null }])
  expectClose(q, reference.liftPrior.q)
  expect(degreesOfFreedom).toBe(4)
  expectClose(pValue, reference.liftPrior.pValue)
  expect(heterogeneity(effects.slice(0, 1))).toMatchObject({ q: null, pValue: null, why: expect.stringContaining('two segments') })
})

describe('over time', () => {
  const plan = { kind: 'conversion', alpha: 0.05, plannedVisitors: { control: 1000, variant: 1000 } } as const
  const day = (name: string, control: number, variant: number) => ({ day: name, control: conversionMoments(100, control), variant: conversionMoments(110, variant) })

  test('the last cumulative reading is that of everybody', () => {
    const readings = compareOverTime([day('a', 5, 9), day('b', 7, 8), day('c', 2, 12)], plan)
    const all = compareArms(estimateArm('conversion', conversionMoments(300, 14)), estimateArm('conversion', conversionMoments(330, 29)), plan)
    expectClose(readings[2]!.cumulative.difference.estimate, all.difference.estimate, 1e-12)
    expectClose(readings[2]!.cumulative.sequential.pValue, all.sequential.pValue, 1e-9)
    expectClose(readings[1]!.daily.difference.estimate, 8 / 110 - 0.07, 1e-12)
  })

  test('a trend agrees with weighted least squares of statsmodels', () => {
    const { points, slope, standardError, pValue } = reference.trend
    const actual = trendOfDifference(points.map(([at, estimate, error]) => ({ day: at!, estimate: estimate!, standardError: error! })), 0.05)
    expectClose(actual.slope, slope)
    expectClose(actual.standardError, standardError)
    expectClose(actual.pValue, pValue)
    expect(trendOfDifference([{ day: 1, estimate: 0.1, standardError: 0.1 }], 0.05)).toMatchObject({ slope: null, why: expect.stringContaining('two days') })
  })
})

import { describe, expect, test } from 'vitest'
import { factorialEffects, type FactorialCell } from './factorial'
import { expectClose } from '../../tests/expectations'
import reference from './reference/reference.json'

const factors = [
  { name: 'headline', levels: ['plain', 'warm'] },
  { name: 'button', levels: ['top', 'bottom'] },
  { name: 'picture', levels: ['sea', 'ferry', 'none'] },
]
const cell = (levels: string[], visitors: number, mean: number, variance: number): FactorialCell => ({
  levels,
  estimate: { visitors, mean, variance },
})

test('effects of three factors agree with weighted least squares of statsmodels', () => {
  const cells = reference.factorial.cells.map(([levels, visitors, mean, variance]) =>
    cell(
      (levels as number[]).map((level, index) => factors[index]!.levels[level]!),
      visitors as number,
      mean as number,
      variance as number,
    ),
  )
  const { effects, bestCell } = factorialEffects(factors, cells, 0.05)
  expect(effects.map(({ factors: names, levels }) => `${names.join('×')} ${levels.join('×')}`)).toEqual([
    'headline warm',
    'button bottom',
    'picture ferry',
    'picture none',
    'headline×button warm×bottom',
    'headline×picture warm×ferry',
    'headline×picture warm×none',
    'button×picture bottom×ferry',
    'button×picture bottom×none',
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
    const [effect] = factorialEffects(
      two,
      [cell(['plain'], 1000, 0.1, 0.09), cell(['warm'], 1200, 0.12, 0.1056)],
      0.05,
    ).effects
    expectClose(effect!.estimate, 0.01, 1e-9)
    expectClose(effect!.standardError, Math.sqrt(0.09 / 1000 + 0.1056 / 1200) / 2, 1e-9)
  })

  test('half of the cells name what they cannot tell apart', () => {
    const pairs = factors.slice(0, 2)
    const third = { name: 'color', levels: ['pine', 'slate'] }
    // The half where color is the product of the others.
    const half = [
      ['plain', 'top', 'slate'],
      ['warm', 'bottom', 'slate'],
      ['plain', 'bottom', 'pine'],
      ['warm', 'top', 'pine'],
    ]
    const { effects } = factorialEffects(
      [...pairs, third],
      half.map((levels, index) => cell(levels, 1000, 0.1 + index / 100, 0.09)),
      0.05,
    )
    expect(
      effects.map(({ factors: names, aliases }) => [names[0], aliases?.map((alias) => alias.factors.join('×'))]),
    ).toEqual([
      ['headline', ['button×color']],
      ['button', ['headline×color']],
      ['color', ['headline×button']],
    ])
  })

  test('a cell that never converted takes the variance of the others; nothing at all says why', () => {
    const { effects } = factorialEffects(two, [cell(['plain'], 1000, 0, 0), cell(['warm'], 1000, 0.01, 0.0099)], 0.05)
    expectClose(effects[0]!.standardError, Math.sqrt((2 * 0.0099) / 1000) / 2, 1e-9)
    expect(factorialEffects(two, [cell(['plain'], 10, 0, 0), cell(['warm'], 10, 0, 0)], 0.05)).toMatchObject({
      effects: [],
      bestCell: null,
      why: expect.stringContaining('combinations'),
    })
  })
})

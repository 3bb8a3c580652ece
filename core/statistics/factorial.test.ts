import { describe, expect, test } from 'vitest'
import { factorialEffects, mixedEffects, type FactorialCell } from './factorial'
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

test('levels are compared with the first of their factor, on average over the others', () => {
  const two = factors.slice(0, 2)
  const means = { 'plain top': 0.1, 'plain bottom': 0.12, 'warm top': 0.13, 'warm bottom': 0.17 }
  const cells = Object.entries(means).map(([levels, mean]) => cell(levels.split(' '), 5000, mean, 0.1))
  const { contrasts } = factorialEffects(two, cells, 0.05)
  expect(contrasts.map(({ factor, level }) => `${factor} ${level}`)).toEqual(['headline warm', 'button bottom'])
  // Each side is the mean of two cells: (0.13 + 0.17) / 2 against (0.1 + 0.12) / 2.
  expectClose(contrasts[0]!.difference, 0.04, 1e-9)
  const error = Math.sqrt((4 * 0.1) / 5000 / 4)
  expectClose(contrasts[0]!.interval[1], 0.04 + 1.959963984540054 * error, 1e-9)
  expectClose(contrasts[0]!.lift!, 0.04 / 0.11, 1e-9)
  // The two sides are independent: var(B/A) = (var B + (B/A)² var A) / A².
  const side = 0.1 / 5000 / 2
  const liftError = Math.sqrt(side + (0.15 / 0.11) ** 2 * side) / 0.11
  expectClose(contrasts[0]!.liftInterval![0], 0.04 / 0.11 - 1.959963984540054 * liftError, 1e-9)
})

test('a level of three is compared with the first, not with the mean of all', () => {
  const third = factors.slice(2)
  const cells = [0.1, 0.13, 0.16].map((mean, index) => cell([third[0]!.levels[index]!], 1000, mean, 0.1))
  const { contrasts } = factorialEffects(third, cells, 0.05)
  expectClose(contrasts[0]!.difference, 0.03, 1e-9)
  expectClose(contrasts[1]!.difference, 0.06, 1e-9)
  expectClose(contrasts[1]!.lift!, 0.6, 1e-9)
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
    // The same is known before anybody has seen one of them.
    expect(mixedEffects([...pairs, third], half).map((mixed) => [mixed.effect!.factors[0], mixed.with.length])).toEqual(
      [
        ['headline', 1],
        ['button', 1],
        ['color', 1],
      ],
    )
    expect(
      mixedEffects(pairs, [
        ['plain', 'top'],
        ['plain', 'bottom'],
        ['warm', 'top'],
        ['warm', 'bottom'],
      ]),
    ).toEqual([])
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

import { expect, test } from 'vitest'
import { rankEffects } from './effects'

const effect = (name: string, pValue: number | null, lift: number | null = 0.1, isShort = false) => ({
  name,
  pValue,
  lift,
  isShort,
})

test('what has moved comes first, corrected over what can be read; what cannot be read yet comes last', () => {
  const ranked = rankEffects(
    [
      effect('b', 0.04),
      effect('short', 0.0001, 0.9, true),
      effect('a', 0.01),
      effect('c', 0.03),
      effect('none', null, null),
      effect('d', 0.5),
    ],
    0.05,
  )
  expect(ranked.map(({ name, adjustedPValue, hasMoved }) => [name, adjustedPValue, hasMoved])).toEqual([
    ['a', 0.04, true],
    ['b', expect.closeTo(0.0533, 4), false],
    ['c', expect.closeTo(0.0533, 4), false],
    ['d', 0.5, false],
    ['short', null, false],
    ['none', null, false],
  ])
})

test('of equal ones the larger lift comes first, whatever its sign, and nothing is nothing', () => {
  expect(rankEffects([effect('small', 0.5, 0.1), effect('large', 0.5, -0.3)], 0.05).map(({ name }) => name)).toEqual([
    'large',
    'small',
  ])
  expect(rankEffects([], 0.05)).toEqual([])
})

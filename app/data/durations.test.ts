import { expect, test } from 'vitest'
import { durationInWords } from './durations'

test('a length of time is told in the units in which it is read', () => {
  const told = [null, 0, 4240, 9960, 59_900, 72_000, 120_000, 3_599_900, 7_500_000, 259_200_000].map(durationInWords)
  expect(told).toEqual([
    '–',
    '0.0 s',
    '4.2 s',
    '10.0 s',
    '60 s',
    '1 min 12 s',
    '2 min',
    '60 min',
    '2 h 5 min',
    '3 days',
  ])
})

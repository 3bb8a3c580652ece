import { expect, test } from 'vitest'
import { clockTime, durationInWords } from './durations'

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

test('a moment of a recording is told to the second, of a short one to the tenth', () => {
  expect([clockTime(0), clockTime(65_400, 120_000), clockTime(1849, 1849), clockTime(-5, 1849)]).toEqual([
    '0:00',
    '1:05',
    '0:01.8',
    '0:00.0',
  ])
})

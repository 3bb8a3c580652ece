import { expect, test } from 'vitest'
import { clockOf, minuteOf } from './clockTime'

test('minutes of the day and the clock say the same', () => {
  expect(clockOf(0)).toBe('00:00')
  expect(clockOf(1200)).toBe('20:00')
  for (const minute of [0, 1, 419, 1439]) expect(minuteOf(clockOf(minute))).toBe(minute)
  expect(minuteOf('')).toBeNull()
  expect(minuteOf('25:00')).toBeNull()
})

import { expect, it } from 'vitest'
import { monthlyGain, visitorsAMonth } from './monthlyGain'

const scale = { visitorsAMonth: 10_000, mean: 0.05, unitValue: 60, direction: 'up' } as const

it('a month’s gain is the lift of a month’s units in money, with the interval of the lift', () => {
  expect(monthlyGain(scale, 0.1, [-0.02, 0.22])).toEqual({ expected: 3000, low: -600, high: 6600 })
  expect(monthlyGain(scale, null, [0, 1])).toBeNull()
})

it('a fall is a gain where less is better', () => {
  expect(monthlyGain({ ...scale, direction: 'down' }, -0.1, [-0.22, 0.02])).toEqual({
    expected: 3000,
    low: -600,
    high: 6600,
  })
})

it('a month’s visitors are those of the whole traffic, after a week at least', () => {
  expect(visitorsAMonth(1000, 10, 5000)).toBeCloseTo(6087.5)
  expect(visitorsAMonth(1000, 6, 10_000)).toBeNull()
  expect(visitorsAMonth(1000, 10, 0)).toBeNull()
})

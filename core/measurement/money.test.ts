import { expect, test } from 'vitest'
import { inOwnCurrency, roundAmount, type Money } from './money'

test.each([
  [84.499999999, 'EUR', 84.5],
  [1.005, 'EUR', 1.01],
  [-1.005, 'EUR', -1.01],
  [1e-160, 'EUR', 0],
  [1234.5, 'JPY', 1235],
  [1.2345, 'KWD', 1.235],
  [0.1 + 0.2, 'EUR', 0.3],
])('%d %s is %d', (amount, currency, rounded) => expect(roundAmount(amount, currency)).toBe(rounded))

test('amounts are converted by the rate of their day, or not at all', () => {
  const money: Money = {
    currency: 'EUR',
    rates: [
      { currency: 'GBP', from: '2026-03-01', rate: 1.2 },
      { currency: 'GBP', from: '2026-04-01', rate: 1.1 },
    ],
  }
  expect(inOwnCurrency(money, 10, 'EUR', '2026-01-01')).toBe(10)
  expect(inOwnCurrency(money, 10, null, '2026-01-01')).toBe(10)
  expect(inOwnCurrency(money, 10, 'GBP', '2026-02-28')).toBeNull()
  expect(inOwnCurrency(money, 10, 'GBP', '2026-03-31')).toBe(12)
  expect(inOwnCurrency(money, 10.01, 'GBP', '2026-04-02')).toBe(11.01)
  expect(inOwnCurrency(money, 10, 'USD', '2026-04-02')).toBeNull()
})

test.each([
  [12.33, 1.5, 18.5],
  [-12.33, 1.5, -18.5],
  [1.15, 1.1, 1.27],
  [100, 0.00654321, 0.65],
  [3, 1e-7, 0],
])('%d by a rate of %d is %d: half a cent is not lost', (amount, rate, expected) => {
  const money: Money = { currency: 'EUR', rates: [{ currency: 'GBP', from: '2026-01-01', rate }] }
  expect(inOwnCurrency(money, amount, 'GBP', '2026-01-01')).toBe(expected)
})

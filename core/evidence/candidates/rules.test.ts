import { expect, test } from 'vitest'
import { seededUniform } from '../../random/seededUniform'
import {
  falseLargerShares,
  falseLongerTimes,
  largerShares,
  longerTimes,
  type ShareSample,
  type TimeSample,
} from './rules'

const uniform = seededUniform(5)
/** Times as people take them: many short, some very long. */
const times = (count: number, scale: number) => Array.from({ length: count }, () => -Math.log(1 - uniform()) * scale)
const fields = (scales: readonly number[]): TimeSample[] =>
  scales.map((scale, index) => ({ key: String(index), marked: times(120, scale), others: times(90, 4000) }))
const share = (key: string, count: number, of: number, otherCount: number, otherOf: number): ShareSample => ({
  key,
  marked: { count, of },
  others: { count: otherCount, of: otherOf },
})

test('a field in which the marked stay more than three times as long is pointed at, and no other', () => {
  const { tested, found } = longerTimes(fields([4000, 24_000, 4000, 4000, 6000]), 3)
  expect(tested).toBe(5)
  expect(found.map(({ sample }) => sample.key)).toEqual(['1'])
  expect(found[0]!.p).toBeLessThan(1e-6)
  // Too few to say anything.
  expect(longerTimes([{ key: 'few', marked: times(29, 90_000), others: times(90, 1) }], 3).tested).toBe(0)
})

test('the rank-sum test has the p-value that is computed by hand', () => {
  const marked = Array.from({ length: 30 }, (_, index) => index + 100)
  const others = Array.from({ length: 30 }, (_, index) => index)
  // All of the marked are larger: U = 900, mean 450, variance 30·30·61/12 = 4575.
  const [found] = longerTimes([{ key: 'all', marked, others }], 3).found
  const z = (900 - 450 - 0.5) / Math.sqrt(4575)
  expect(z).toBeCloseTo(6.6456, 3)
  expect(found!.p).toBeGreaterThan(1e-11)
  expect(found!.p).toBeLessThan(2e-11)
  // Nothing but ties says nothing.
  expect(longerTimes([{ key: 'ties', marked: marked.map(() => 7), others: others.map(() => 7) }], 1).found).toEqual([])
})

test('a share that is larger by more than chance and by enough is pointed at', () => {
  const samples = [
    share('risen', 90, 300, 45, 300),
    share('chance', 50, 300, 45, 300),
    share('small', 5200, 50_000, 4900, 50_000),
    share('fallen', 20, 300, 90, 300),
    share('nobody', 0, 300, 0, 300),
  ]
  const { tested, found } = largerShares(samples, 0.02)
  expect(tested).toBe(4)
  expect(found.map(({ sample }) => sample.key)).toEqual(['risen'])
  expect(largerShares(samples, 0.001).found.map(({ sample }) => sample.key)).toEqual(['risen', 'small'])
})

test('where there is nothing to find, a rule speaks as seldom as it should', () => {
  // With any difference counting, the level of the test itself is what is left.
  const even = fields([4000, 4000, 4000, 4000])
  const slow = falseLongerTimes(even, 0, 400, uniform)
  expect(slow.rounds).toBe(400)
  expect(slow.alarms / slow.rounds).toBeGreaterThan(0.01)
  expect(slow.alarms / slow.rounds).toBeLessThan(0.09)
  expect(falseLongerTimes(even, 3, 400, uniform).alarms).toBe(0)
  const shares = [share('a', 60, 400, 61, 390), share('b', 200, 800, 190, 810), share('c', 9, 90, 12, 100)]
  const risen = falseLargerShares(shares, 0, 1000, uniform)
  expect(risen.alarms / risen.rounds).toBeGreaterThan(0.01)
  expect(risen.alarms / risen.rounds).toBeLessThan(0.08)
  // Marks that mean something mean nothing once they are dealt out anew.
  expect(falseLongerTimes(fields([40_000]), 3, 200, uniform).alarms).toBe(0)
})

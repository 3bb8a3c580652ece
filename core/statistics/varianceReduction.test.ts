import { describe, expect, test } from 'vitest'
import { addVisitor, noMoments, type Moments } from './moments'
import { expectClose, expectInterval } from '../../tests/expectations'
import reference from './reference/reference.json'
import { adjustForCovariate, compareAdjusted, fillCovariate } from './varianceReduction'

const fold = (rows: readonly (readonly number[])[]): Moments => {
  const moments = noMoments(rows[0]!.length)
  rows.forEach((row) => addVisitor(moments, row))
  return moments
}

describe('agrees with least squares on raw values', () => {
  test.each([
    ['mean', 'revenue'],
    ['conversion', 'bought'],
    ['ratio', 'ratioWithPast'],
  ] as const)('of a %s', (kind, name) => {
    const arms = reference.raw[name].map(fold)
    const actual = compareAdjusted(kind, adjustForCovariate(kind, arms), 0, 1, reference.alpha)
    const expected = reference.reduced[name]
    expectClose(actual.theta, expected.theta)
    expectClose(actual.shareRemoved, expected.shareRemoved)
    expectClose(actual.difference.estimate, expected.estimate)
    expectClose(actual.difference.standardError, expected.standardError)
    expectInterval(actual.difference.interval, expected.interval)
    expectClose(actual.pValue, expected.pValue)
  })
})

test('a constant covariate changes nothing, and says so', () => {
  const arms = reference.raw.revenue.map((rows) => fold(rows.map(([value]) => [value!, 7])))
  const adjustment = adjustForCovariate('mean', arms)
  expect(adjustment).toMatchObject({ theta: 0, why: expect.stringContaining('nothing changes') })
  adjustment.arms.forEach(({ plain, adjusted }) => expect(adjusted).toEqual(plain))
  expect(compareAdjusted('mean', adjustment, 0, 1, 0.05)).toMatchObject({
    shareRemoved: 0,
    why: expect.stringContaining('same for all'),
  })
})

test('visitors without a past get the covariate’s mean, as if it had been filled in row by row', () => {
  const rows = reference.raw.revenue.map((arm) =>
    arm.map(([value, past], index) => (index % 3 === 0 ? [value!] : [value!, past!])),
  )
  const known = rows.flat().filter((row) => row.length === 2)
  const overall = known.reduce((sum, row) => sum + row[1]!, 0) / known.length
  const filled = fillCovariate(
    rows.map((arm) => fold(arm.filter((row) => row.length === 2))),
    rows.map((arm) => fold(arm.filter((row) => row.length === 1))),
  )
  rows.forEach((arm, index) => {
    const byRow = fold(arm.map((row) => [row[0]!, row[1] ?? overall]))
    expect(filled[index]!.count).toBe(byRow.count)
    byRow.means.forEach((mean, value) => expectClose(filled[index]!.means[value], mean, 1e-10))
    byRow.comoments.forEach((product, cell) => expectClose(filled[index]!.comoments[cell], product, 1e-9))
  })
})

test('arms that cannot be estimated give no reduction', () => {
  const arms = [
    fold([[1, 2]]),
    fold([
      [1, 2],
      [4, 9],
    ]),
  ]
  expect(compareAdjusted('mean', adjustForCovariate('mean', arms), 0, 1, 0.05)).toMatchObject({
    shareRemoved: null,
    pValue: null,
    why: expect.stringContaining('single visitor'),
  })
})

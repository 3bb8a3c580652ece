import { describe, expect, test } from 'vitest'
import { expectClose } from '../../tests/expectations'
import { compareArms } from './compareArms'
import { estimateArm } from './estimate'
import { conversionMoments } from './moments'
import { compareOverTime, trendOfDifference } from './overTime'
import reference from './reference/reference.json'

describe('over time', () => {
  const plan = { kind: 'conversion', alpha: 0.05, plannedVisitors: { control: 1000, variant: 1000 } } as const
  const day = (name: string, control: number, variant: number) => ({
    day: name,
    control: conversionMoments(100, control),
    variant: conversionMoments(110, variant),
  })

  test('the last cumulative reading is that of everybody', () => {
    const readings = compareOverTime([day('a', 5, 9), day('b', 7, 8), day('c', 2, 12)], plan)
    const all = compareArms(
      estimateArm('conversion', conversionMoments(300, 14)),
      estimateArm('conversion', conversionMoments(330, 29)),
      plan,
    )
    expectClose(readings[2]!.cumulative.difference.estimate, all.difference.estimate, 1e-12)
    expectClose(readings[2]!.cumulative.sequential.pValue, all.sequential.pValue, 1e-9)
    expectClose(readings[1]!.daily.difference.estimate, 8 / 110 - 0.07, 1e-12)
  })

  test('a trend agrees with weighted least squares of statsmodels', () => {
    const { points, slope, standardError, pValue } = reference.trend
    const actual = trendOfDifference(
      points.map(([at, estimate, error]) => ({ day: at!, estimate: estimate!, standardError: error! })),
      0.05,
    )
    expectClose(actual.slope, slope)
    expectClose(actual.standardError, standardError)
    expectClose(actual.pValue, pValue)
    expect(trendOfDifference([{ day: 1, estimate: 0.1, standardError: 0.1 }], 0.05)).toMatchObject({
      slope: null,
      why: expect.stringContaining('two days'),
    })
  })
})

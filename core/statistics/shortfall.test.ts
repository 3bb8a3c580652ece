import { describe, expect, test } from 'vitest'
import { drawsFrom } from '../random/draws'
import { seededUniform } from '../random/seededUniform'
import { addVisitor, conversionMoments, noMoments, type Moments } from './moments'
import { armShape, LEAST_ACTIVE, shortfallOf, type ThirdSums } from './shortfall'

const conversions = ([visitors, converted]: readonly [number, number]) =>
  armShape('conversion', conversionMoments(visitors, converted), converted, null)

describe('two arms may be compared', () => {
  test.each([
    ['equal arms with enough', [2000, 40], [2000, 30], null],
    ['too few conversions', [2000, 40], [2000, 7], { arm: 'variant', what: 'conversions', has: 7 }],
    [
      'all but a few converted',
      [100, 95],
      [100, 90],
      { arm: 'control', what: 'visitors without a conversion', has: 5 },
    ],
    ['a small arm of a rare event', [36_000, 360], [4000, 40], { arm: 'variant', what: 'visitors', has: 4000 }],
    ['the same the other way round', [4000, 40], [36_000, 360], { arm: 'control', what: 'visitors', has: 4000 }],
    ['a small arm of a frequent event', [3600, 1080], [400, 120], null],
  ] as const)('%s', (_, control, variant, missing) => {
    const found = shortfallOf('conversion', conversions(control), conversions(variant))
    if (missing === null) expect(found).toBeNull()
    else expect(found).toMatchObject(missing)
  })

  test('once as many have come as was said to be missing', () => {
    const { needs } = shortfallOf('conversion', conversions([36_000, 360]), conversions([4000, 40]))!
    // (1 − 2p)/√(p(1 − p)·n)·(1 − r²)/(1 + r)^1.5 with r = 1/9 and p = 1 % is 0.12 at n = 4,850.
    expect(needs).toBeGreaterThan(4500)
    const at = (visitors: number) => conversions([visitors, Math.round(visitors / 100)])
    const enough = Math.ceil(needs / 100) * 100
    expect(shortfallOf('conversion', at(enough * 9), at(enough))).toBeNull()
    expect(shortfallOf('conversion', at((enough - 200) * 9), at(enough - 200))).not.toBeNull()
  })
})

test('the shape of amounts and of ratios is that of each visitor’s value, taken by itself', () => {
  const uniform = seededUniform(4)
  const draws = drawsFrom(uniform)
  const thirds: ThirdSums = { yyy: 0, yyz: 0, yzz: 0, zzz: 0 }
  const moments: Moments = noMoments(2)
  const visitors = Array.from({ length: 400 }, () => {
    const z = 1 + Math.floor(-Math.log(uniform()) * 2)
    const y = uniform() < 0.3 ? Math.exp(draws.normal(1, 0.8)) * z : 0
    addVisitor(moments, [y, z])
    thirds.yyy += y ** 3
    thirds.yyz += y * y * z
    thirds.yzz += y * z * z
    thirds.zzz += z ** 3
    return { y, z }
  })
  const active = visitors.filter(({ y }) => y !== 0).length
  const thirdOf = (values: number[]) => {
    const mean = values.reduce((sum, value) => sum + value, 0) / values.length
    return values.reduce((sum, value) => sum + (value - mean) ** 3, 0) / values.length
  }
  const single: Moments = { count: 400, means: [moments.means[0]!], comoments: [moments.comoments[0]!] }
  expect(armShape('mean', single, active, thirds).third).toBeCloseTo(thirdOf(visitors.map(({ y }) => y)), 6)
  const ratio = moments.means[0]! / moments.means[1]!
  const linear = visitors.map(({ y, z }) => (y - ratio * z) / moments.means[1]!)
  const shape = armShape('ratio', moments, active, thirds)
  expect(shape.third).toBeCloseTo(thirdOf(linear), 8)
  expect(shape.variance).toBeCloseTo(linear.reduce((sum, value) => sum + value ** 2, 0) / 399, 8)
  expect(active).toBeGreaterThan(LEAST_ACTIVE)
})

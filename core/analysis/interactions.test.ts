import { expect, test } from 'vitest'
import { drawsFrom } from '../random/draws'
import { seededUniform } from '../random/seededUniform'
import { normalUpperTail } from '../statistics/distributions'
import { conversionMoments } from '../statistics/moments'
import { readInteractions, type Interaction, type SharedExperiment } from './interactions'

/** Of each variant of the other experiment, visitors of each arm of ours and those who converted. */
const shared = (...variants: readonly (readonly [number, number])[][]): SharedExperiment => ({
  variants: variants.map((arms, index) => ({
    name: `B${index}`,
    arms: arms.map(([visitors, converted]) => conversionMoments(visitors, converted)),
  })),
})

test('an effect that is there in one variant of the other experiment alone is an interaction', () => {
  const other = shared(
    [
      [10_000, 1000],
      [10_000, 1000],
    ],
    [
      [10_000, 1000],
      [10_000, 1300],
    ],
  )
  const [[found]] = readInteractions('conversion', [other], 1, 0.05) as [[Interaction]]
  expect(found.within.map(({ name, visitors }) => [name, visitors])).toEqual([
    ['B0', 20_000],
    ['B1', 20_000],
  ])
  expect(found.within.map(({ lift }) => lift.estimate)).toEqual([expect.closeTo(0, 10), expect.closeTo(0.3, 10)])
  // Of the difference of the logarithms, by hand.
  const of = (rate: number) => (1 - rate) / rate / 10_000
  const z = Math.log(1.3) / Math.sqrt(3 * of(0.1) + of(0.13))
  expect(found.differ.pValue!).toBeCloseTo(2 * normalUpperTail(z), 8)
  expect(found.adjustedPValue).toBe(found.differ.pValue)
})

test('the same effect in both is none, whatever the other does; several pairs share the error', () => {
  const same = shared(
    [
      [10_000, 1000],
      [10_000, 1200],
    ],
    [
      [10_000, 2000],
      [10_000, 2400],
    ],
  )
  const some = shared(
    [
      [5000, 500],
      [5000, 500],
    ],
    [
      [5000, 500],
      [5000, 600],
    ],
  )
  const [[first], [second]] = readInteractions('conversion', [same, some], 1, 0.05) as [Interaction[], Interaction[]]
  expect(first!.differ.pValue).toBeCloseTo(1, 6)
  expect(second!.adjustedPValue).toBeCloseTo(2 * second!.differ.pValue!, 10)
  expect(
    readInteractions(
      'conversion',
      [
        shared(
          [
            [10, 0],
            [10, 0],
          ],
          [
            [10, 0],
            [10, 0],
          ],
        ),
      ],
      1,
      0.05,
    )[0]![0]!.adjustedPValue,
  ).toBe(null)
})

test('without an interaction one is found as seldom as the error level says', () => {
  const draws = drawsFrom(seededUniform(31))
  const runs = 800
  let found = 0
  for (let run = 0; run < runs; run++) {
    const cell = (rate: number): [number, number] => [4000, draws.binomial(4000, rate)]
    const other = shared([cell(0.1), cell(0.12)], [cell(0.15), cell(0.18)])
    if (readInteractions('conversion', [other], 1, 0.05)[0]![0]!.adjustedPValue! < 0.05) found++
  }
  // Four standard errors.
  expect(Math.abs(found / runs - 0.05)).toBeLessThan(4 * Math.sqrt((0.05 * 0.95) / runs))
})

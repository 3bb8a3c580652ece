import { describe, expect, it } from 'vitest'
import { checkAllocation } from '../statistics/allocation'
import { carriersOf, splitByTrait, type TraitCount } from './splitByTrait'
import { splitCauses, type SplitEvidence } from './splitCauses'

const arm = (name: string, visitors: number, more: Partial<SplitEvidence['arms'][number]> = {}) => ({
  name,
  visitors,
  weight: 1,
  redirects: false,
  withErrors: 0,
  delay: 300,
  ...more,
})
const fair: TraitCount[] = [
  { trait: 'device', value: 'phone', visitors: [500, 502] },
  { trait: 'device', value: 'desktop', visitors: [498, 500] },
]
/** One browser in which half of the variant’s visitors are missing. */
const firefox: TraitCount[] = [
  { trait: 'browser', value: 'Chrome', visitors: [600, 610] },
  { trait: 'browser', value: 'Firefox', visitors: [400, 200] },
]
const shown = (evidence: SplitEvidence) =>
  splitCauses(evidence).flatMap(({ cause, isShown }) => (isShown ? [cause] : []))

describe('visitors by variant and trait', () => {
  it('name the value by which the split is off, and that all others are split as set', () => {
    const [browser] = splitByTrait(firefox, [1, 1])
    expect(browser).toMatchObject({ trait: 'browser', matters: true })
    expect(carriersOf(browser!).map(({ value }) => value)).toEqual(['Firefox'])
    // 100² / 300 twice: 66.7 with one degree of freedom.
    expect(browser!.values[1]!.adjustedPValue).toBeLessThan(1e-14)
    expect(browser!.values[0]).toMatchObject({ value: 'Chrome', isOff: false, expected: [605, 605] })
    expect(browser!.values[0]!.othersPValue).toBeLessThan(1e-14)
  })

  it('blame no value where the split is off everywhere alike', () => {
    const [device] = splitByTrait(
      [
        { trait: 'device', value: 'phone', visitors: [1000, 800] },
        { trait: 'device', value: 'desktop', visitors: [1000, 800] },
      ],
      [1, 1],
    )
    expect(device!.values.map(({ isOff }) => isOff)).toEqual([true, true])
    expect(device!.matters).toBe(false)
    expect(carriersOf(device!)).toEqual([])
  })

  it('go by the weights, test no handful, and keep hours in their order', () => {
    expect(checkAllocation([300, 100], [3, 1]).pValue).toBe(1)
    const [hour] = splitByTrait(
      [
        { trait: 'hour', value: '14', visitors: [30, 10] },
        { trait: 'hour', value: '09', visitors: [9, 0] },
      ],
      [3, 1],
    )
    expect(hour!.values.map(({ value }) => value)).toEqual(['09', '14'])
    expect(hour!.values[0]!.adjustedPValue).toBeNull()
  })

  it('are called off by chance in no more than two of a hundred runs', () => {
    let state = 1
    const draw = () => (state = (state * 48271) % 2147483647) / 2147483647
    let off = 0
    for (let run = 0; run < 1000; run++) {
      const counts = Array.from({ length: 20 }, (_, index): TraitCount => {
        const visitors = [0, 0]
        for (let each = 0; each < 60; each++) visitors[draw() < 0.5 ? 0 : 1]!++
        return { trait: index < 10 ? 'source' : 'day', value: String(index), visitors }
      })
      if (splitByTrait(counts, [1, 1]).some((trait) => trait.matters || trait.values.some(({ isOff }) => isOff))) off++
    }
    // Two families of tests of 1 % each, and three standard deviations of luck.
    expect(off).toBeLessThan(35)
  })
})

describe('the causes of a split that is off', () => {
  it('are a failing browser, where the split is off in one', () => {
    const evidence = {
      traits: splitByTrait([...fair, ...firefox], [1, 1]),
      arms: [arm('A', 1000), arm('B', 810)],
      crowds: [],
    }
    expect(shown(evidence)).toEqual(['fails'])
    expect(splitCauses(evidence)[0]!.because).toEqual([
      'Firefox: A 400 of 300 expected, B 200 of 300 expected. All other visitors are split as set.',
    ])
  })

  it('are script errors, where one variant has more of them', () => {
    const arms = [arm('A', 1000, { withErrors: 10 }), arm('B', 900, { withErrors: 90 })]
    expect(shown({ traits: splitByTrait(fair, [1, 1]), arms, crowds: [] })).toEqual(['fails'])
    expect(
      shown({ traits: [], arms: [arm('A', 1000, { withErrors: 10 }), arm('B', 900, { withErrors: 12 })], crowds: [] }),
    ).toEqual([])
  })

  it('are lateness, where a variant lacks visitors everywhere and redirects or is counted later', () => {
    const traits = splitByTrait([{ trait: 'device', value: 'phone', visitors: [1000, 800] }], [1, 1])
    expect(shown({ traits, arms: [arm('A', 1000), arm('B', 800, { redirects: true })], crowds: [] })).toEqual(['late'])
    expect(shown({ traits, arms: [arm('A', 1000), arm('B', 800, { delay: 900 })], crowds: [] })).toEqual(['late'])
    expect(shown({ traits, arms: [arm('A', 1000), arm('B', 800)], crowds: [] })).toEqual([])
    // The one that is late has its visitors: another reason must be found.
    expect(shown({ traits, arms: [arm('A', 800), arm('B', 1000, { delay: 900 })], crowds: [] })).toEqual([])
  })

  it('are a change, machines or a way in, where the split is off on some days, in a crowd or from a source', () => {
    const off = (trait: TraitCount['trait']) =>
      shown({
        traits: splitByTrait(
          [
            { trait, value: '1', visitors: [500, 505] },
            { trait, value: '2', visitors: [400, 250] },
          ],
          [1, 1],
        ),
        arms: [arm('A', 900), arm('B', 755)],
        crowds: [],
      })
    expect(off('day')).toEqual(['changed'])
    expect(off('period')).toEqual(['changed'])
    expect(off('hour')).toEqual(['machines'])
    expect(off('source')).toEqual(['entry'])
    expect(shown({ traits: [], arms: [arm('A', 1), arm('B', 1)], crowds: ['One network.'] })).toEqual(['machines'])
  })
})

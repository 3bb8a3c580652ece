import { checkAllocation } from '../statistics/allocation'
import { chiSquareUpperTail } from '../statistics/distributions'
import { holm } from '../statistics/holm'

/** What visitors of an experiment were, and when they came, at their first exposure. */
export const TRAITS = [
  'period',
  'day',
  'hour',
  'device',
  'system',
  'browser',
  'browserVersion',
  'source',
  'country',
  'visitor',
  'entry',
  'page',
] as const
export type Trait = (typeof TRAITS)[number]

/** Visitors of each variant with one value of a trait. */
export interface TraitCount {
  trait: Trait
  value: string
  /** The control first. */
  visitors: readonly number[]
}

export interface ValueSplit {
  value: string
  visitors: number[]
  /** By the weights. */
  expected: number[]
  /** Of the split against the weights, corrected over all values that are tested; null for too few visitors. */
  adjustedPValue: number | null
  isOff: boolean
  /** p of the split of all other visitors against the weights: large where this value alone is off. */
  othersPValue: number
}

export interface TraitSplit {
  trait: Trait
  /** The largest first, but periods, days and hours in the order of time. */
  values: ValueSplit[]
  /** Of whether the split depends on the trait, corrected over all traits; null where there is nothing to compare. */
  adjustedPValue: number | null
  /** Whether it does. A split that is off everywhere alike does not. */
  matters: boolean
}

/** Fewer expected in a variant are not tested: the test's distribution holds from about five on (Cochran 1954). */
const LEAST_EXPECTED = 5
const LEVEL = 0.01
const IN_ORDER: readonly Trait[] = ['period', 'day', 'hour']

/**
 * Visitors by variant and what they were, with where the split departs from the weights.
 *
 * @param counts - of each trait all visitors, once
 * @param weights - of the variants, all above zero
 * @example
 * splitByTrait([{ trait: 'browser', value: 'Firefox', visitors: [400, 200] }, …], [1, 1])
 * // [{ trait: 'browser', matters: true, values: [{ value: 'Firefox', isOff: true, othersPValue: 0.6, … }] }]
 * @throws RangeError when a weight is not above zero
 * @see Pearson (1900) for the tests of a value against the weights and of a table; Holm (1979) for the correction
 */
export function splitByTrait(counts: readonly TraitCount[], weights: readonly number[]): TraitSplit[] {
  const traits = TRAITS.flatMap((trait) => {
    const own = counts.filter((each) => each.trait === trait)
    return own.length > 0 ? [{ trait, own }] : []
  })
  const tested = traits.flatMap(({ own }) => own.filter(({ visitors }) => isLargeEnough(visitors, weights)))
  const adjusted = new Map(
    holm(tested.map(({ visitors }) => checkAllocation(visitors, weights).pValue)).map((p, index) => [
      tested[index]!,
      p,
    ]),
  )
  const differences = traits.map(({ own }) => differencePValue(own, weights))
  const compared = differences.filter((p) => p !== null)
  const adjustedDifferences = holm(compared)
  let next = 0
  return traits.map(({ trait, own }, index) => {
    const all = weights.map((_, arm) => own.reduce((sum, { visitors }) => sum + visitors[arm]!, 0))
    const adjustedPValue = differences[index] === null ? null : adjustedDifferences[next++]!
    const values = own.map((each): ValueSplit => {
      const p = adjusted.get(each) ?? null
      return {
        value: each.value,
        visitors: [...each.visitors],
        expected: checkAllocation(each.visitors, weights).expected,
        adjustedPValue: p,
        isOff: p !== null && p < LEVEL,
        othersPValue: checkAllocation(
          all.map((total, arm) => total - each.visitors[arm]!),
          weights,
        ).pValue,
      }
    })
    values.sort(
      IN_ORDER.includes(trait)
        ? (a, b) => (a.value < b.value ? -1 : 1)
        : (a, b) => sumOf(b.visitors) - sumOf(a.visitors) || (a.value < b.value ? -1 : 1),
    )
    return { trait, values, adjustedPValue, matters: adjustedPValue !== null && adjustedPValue < LEVEL }
  })
}

/** The values of a trait by which the split is off while all others together are as set: where to look first. */
export function carriersOf({ matters, values }: TraitSplit): ValueSplit[] {
  return matters ? values.filter(({ isOff, othersPValue }) => isOff && othersPValue >= LEVEL) : []
}

/** Of the table of values × variants: whether the shares of the variants are the same for each value. */
function differencePValue(counts: readonly TraitCount[], weights: readonly number[]): number | null {
  const rows = counts.map(({ visitors }) => visitors).filter((visitors) => isLargeEnough(visitors, weights))
  if (rows.length < 2) return null
  const columns = weights.map((_, arm) => rows.reduce((sum, visitors) => sum + visitors[arm]!, 0))
  const total = sumOf(columns)
  const filled = columns.filter((count) => count > 0).length
  if (filled < 2) return null
  const chiSquare = rows.reduce(
    (sum, visitors) =>
      sum +
      visitors.reduce((own, count, arm) => {
        const expected = (sumOf(visitors) * columns[arm]!) / total
        return expected > 0 ? own + (count - expected) ** 2 / expected : own
      }, 0),
    0,
  )
  return chiSquareUpperTail(chiSquare, (rows.length - 1) * (filled - 1))
}

const isLargeEnough = (visitors: readonly number[], weights: readonly number[]) =>
  checkAllocation(visitors, weights).expected.every((expected) => expected >= LEAST_EXPECTED)
const sumOf = (numbers: readonly number[]) => numbers.reduce((sum, number) => sum + number, 0)

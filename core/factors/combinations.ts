import { murmurHash3 } from '../assignment/murmurHash3'
import type { SheetContent, SheetFactor, SheetLevel, SheetVariant } from '../sheet/content'

/** One level of each factor, in the order of the factors. */
export interface Combination {
  /** Follows from the levels, so that it is the same whoever makes it. */
  id: string
  name: string
  levels: SheetLevel[]
  /** Whether visitors get it. */
  isOn: boolean
}

/** Says what the levels of a combination have in common: the page as it is. */
export const CONTROL_NAME = 'Control'

/**
 * How many combinations the levels make.
 *
 * @example combinationCount([{ levels: [a, b] }, { levels: [c, d, e] }]) // 6
 */
export function combinationCount(factors: readonly { levels: readonly unknown[] }[]): number {
  return factors.length === 0 ? 0 : factors.reduce((product, { levels }) => product * levels.length, 1)
}

/**
 * All combinations of the factors' levels, the last factor's level changing fastest. The first one has the first level
 * of every factor, which is the page as it is: the control, which is always on.
 *
 * @param off - ids of combinations that visitors do not get; those of levels that are gone mean nothing
 */
export function allCombinations(factors: readonly SheetFactor[], off: readonly { id: string }[]): Combination[] {
  if (factors.length === 0) return []
  const offIds = new Set(off.map(({ id }) => id))
  const levels = factors.reduce<SheetLevel[][]>(
    (rows, factor) => rows.flatMap((row) => factor.levels.map((level) => [...row, level])),
    [[]],
  )
  return levels.map((own, position) => {
    const id = combinationId(own)
    const name = position === 0 ? CONTROL_NAME : own.map((level) => level.name).join(' × ')
    return { id, name, levels: own, isOn: position === 0 || !offIds.has(id) }
  })
}

/** The variants of a multivariate test: the combinations that are on, with the edits of their levels and like weights. */
export function combinedVariants({ factors, combinationsOff }: FactorParts): SheetVariant[] {
  return allCombinations(factors, combinationsOff)
    .filter(({ isOn }) => isOn)
    .map(({ id, name, levels }) => ({
      id,
      name,
      weight: 1,
      edits: levels.flatMap(({ edits }) => edits),
      levels: levels.map((level) => level.id),
    }))
}

type FactorParts = Pick<SheetContent, 'factors' | 'combinationsOff'>

/** Hash of the levels' ids: as short as any other id, however many factors there are. */
function combinationId(levels: readonly SheetLevel[]): string {
  const ids = levels.map(({ id }) => id).join(' ')
  return [1, 2].map((seed) => murmurHash3(ids, seed).toString(16).padStart(8, '0')).join('')
}

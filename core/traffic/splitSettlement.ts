import { ALLOCATION_ALARM, alwaysValidAllocationPValue } from '../statistics/allocation'
import type { SplitCause } from './splitCauses'

/** Why the split of an experiment was not as set, as somebody found out. */
export interface SplitSettlement {
  cause: SplitCause | 'other'
  /** What exactly, in the person's words. */
  words: string
  person: string | null
  /** ISO */
  at: string
  /** Day of the site on which it was said. */
  day: string
}

/**
 * Whether the split is off again since its cause was named. Only later days count: those before are explained.
 * It is asked each day, so the test is the one that holds however often one looks.
 *
 * @param days - visitors of each variant by day of their first exposure
 * @param weights - of the variants
 */
export function isOffAgain(
  { day: settled }: Pick<SplitSettlement, 'day'>,
  days: readonly { day: string; visitors: readonly number[] }[],
  weights: readonly number[],
): boolean {
  const later = days.filter(({ day }) => day > settled)
  const visitors = weights.map((_, arm) => later.reduce((sum, each) => sum + (each.visitors[arm] ?? 0), 0))
  return alwaysValidAllocationPValue(visitors, weights) < ALLOCATION_ALARM
}

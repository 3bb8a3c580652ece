import type { Explanation } from '../explanations/explanations'

/** The number that is being explained, one at a time. */
export function useExplanation() {
  return useState<Explanation | null>('explanation', () => null)
}

/**
 * Sufficient statistics of one value a visitor: everything the comparison of means needs,
 * whatever the number of visitors.
 */
export interface Moments {
  /** Number of visitors, an integer of at least 0. */
  count: number
  /** Mean of their values; 0 when there are none. */
  mean: number
  /** Sum of squared deviations from the mean. */
  m2: number
}

export const NO_MOMENTS: Readonly<Moments> = Object.freeze({ count: 0, mean: 0, m2: 0 })

/**
 * Moments of two disjoint groups of visitors together.
 *
 * @see Chan, Golub, LeVeque (1983), Algorithms for computing the sample variance, eq. 2.1
 */
export function mergeMoments(a: Moments, b: Moments): Moments {
  const count = a.count + b.count
  if (count === 0) return { ...NO_MOMENTS }
  const gap = b.mean - a.mean
  return {
    count,
    mean: a.mean + (gap * b.count) / count,
    m2: a.m2 + b.m2 + (gap * gap * a.count * b.count) / count,
  }
}

/**
 * Moments of visitors of whom some have the value 1 and the others 0.
 *
 * @param visitors - number of visitors
 * @param converted - how many of them converted, at most `visitors`
 */
export function conversionMoments(visitors: number, converted: number): Moments {
  if (visitors === 0) return { ...NO_MOMENTS }
  return { count: visitors, mean: converted / visitors, m2: (converted * (visitors - converted)) / visitors }
}

/** Unbiased sample variance s² = M2/(n − 1); 0 for fewer than two visitors. */
export function sampleVariance(moments: Moments): number {
  return moments.count > 1 ? moments.m2 / (moments.count - 1) : 0
}

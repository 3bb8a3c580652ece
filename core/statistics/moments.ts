/**
 * Sufficient statistics of one or more values a visitor: everything that estimates of means, ratios and
 * covariate adjustments need, whatever the number of visitors.
 */
export interface Moments {
  /** Number of visitors, an integer of at least 0. */
  count: number
  /** Mean of each value over the visitors; 0 when there are none. */
  means: number[]
  /** Σ(xᵢ − x̄ᵢ)(xⱼ − x̄ⱼ) for i ≥ j: the lower triangle, row by row. */
  comoments: number[]
}

/** Moments of nobody, for `size` values a visitor. */
export function noMoments(size: number): Moments {
  return {
    count: 0,
    means: new Array<number>(size).fill(0),
    comoments: new Array<number>((size * (size + 1)) / 2).fill(0),
  }
}

/** Moments of one value a visitor, from its mean and its sum of squared deviations. */
export function momentsOfMean(count: number, mean: number, squaredDeviations: number): Moments {
  return { count, means: [mean], comoments: [squaredDeviations] }
}

/**
 * Moments of visitors of whom some have the value 1 and the others 0.
 *
 * @param visitors - number of visitors
 * @param converted - how many of them converted, at most `visitors`
 */
export function conversionMoments(visitors: number, converted: number): Moments {
  if (visitors === 0) return noMoments(1)
  return momentsOfMean(visitors, converted / visitors, (converted * (visitors - converted)) / visitors)
}

/**
 * Adds one visitor in place: the only function here that changes what it is given, since files are read row by row.
 *
 * @param moments - what is added to
 * @param values - one number for each value the moments hold
 * @see Welford (1962), Note on a method for calculating corrected sums of squares and products
 */
export function addVisitor(moments: Moments, values: ArrayLike<number>): void {
  const { means, comoments } = moments
  const count = (moments.count += 1)
  const shrink = (count - 1) / count
  let cell = 0
  for (let row = 0; row < means.length; row++) {
    const gap = values[row]! - means[row]!
    // Means of the rows above have moved already; (n − 1)/n carries the gap back to before.
    for (let column = 0; column < row; column++) comoments[cell++]! += gap * (values[column]! - means[column]!)
    comoments[cell++]! += gap * gap * shrink
    means[row]! += gap / count
  }
}

/**
 * Moments of two disjoint groups of visitors together.
 *
 * @throws RangeError when they hold different numbers of values
 * @see Chan, Golub, LeVeque (1983), Algorithms for computing the sample variance, eq. 2.1
 */
export function mergeMoments(a: Moments, b: Moments): Moments {
  if (a.means.length !== b.means.length) throw new RangeError('Only moments of the same values can be merged.')
  const count = a.count + b.count
  if (count === 0) return noMoments(a.means.length)
  const gaps = a.means.map((mean, index) => b.means[index]! - mean)
  const weight = (a.count / count) * b.count
  let cell = 0
  const comoments: number[] = []
  for (let row = 0; row < gaps.length; row++) {
    for (let column = 0; column <= row; column++, cell++)
      comoments.push(a.comoments[cell]! + b.comoments[cell]! + gaps[row]! * gaps[column]! * weight)
  }
  return { count, means: a.means.map((mean, index) => mean + (gaps[index]! * b.count) / count), comoments }
}

/** Moments of any number of disjoint groups; `size` is needed for none. */
export function mergeAll(groups: readonly Moments[], size = groups[0]?.means.length ?? 1): Moments {
  return groups.reduce(mergeMoments, noMoments(size))
}

/** Moments of the first values alone: what comes behind them, such as a covariate, is left out. */
export function firstValues({ count, means, comoments }: Moments, size: number): Moments {
  return { count, means: means.slice(0, size), comoments: comoments.slice(0, (size * (size + 1)) / 2) }
}

/** Σ(xᵢ − x̄ᵢ)(xⱼ − x̄ⱼ) of two of the values. */
export function comoment(moments: Moments, i: number, j: number): number {
  const [row, column] = i >= j ? [i, j] : [j, i]
  return moments.comoments[(row * (row + 1)) / 2 + column]!
}

/** Unbiased sample covariance of two of the values; 0 for fewer than two visitors. */
export function sampleCovariance(moments: Moments, i: number, j: number): number {
  return moments.count > 1 ? comoment(moments, i, j) / (moments.count - 1) : 0
}

/** Unbiased sample variance s² of one of the values; 0 for fewer than two visitors. */
export function sampleVariance(moments: Moments, i = 0): number {
  return sampleCovariance(moments, i, i)
}

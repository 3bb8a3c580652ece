import { seededUniform } from '../random/seededUniform'

export interface Fraction {
  /** Positions among all combinations, the last factor's level changing fastest; ascending, with the first among them. */
  positions: number[]
  /** Whether every pair of levels of two factors occurs equally often, so that no main effect mixes with another. */
  isOrthogonal: boolean
}

/** Searches that begin anew, from other combinations: more where none was orthogonal yet. */
const FEWEST_STARTS = 24
const MOST_STARTS = 200
const SEED = 20_030

/**
 * Of all combinations of factors' levels, few that still tell every main effect, as balanced as so many can be.
 *
 * Combinations are exchanged as long as the moments of the pairs' coincidences get smaller, K₂ first and then K₃ and
 * K₄: the least K₂ keeps the main effects apart, the least K₃ keeps them from mixing with interactions (minimum moment
 * aberration). Among sizes, the largest that is orthogonal; where none is, the one nearest to it.
 *
 * @param levelCounts - levels of each factor, each 2 or more
 * @param most - combinations at most
 * @returns null where that many cannot tell all main effects
 *
 * @example balancedFraction([2, 2, 2], 4) // { positions: [0, 3, 5, 6], isOrthogonal: true }
 * @see Xu (2003), Minimum moment aberration for nonregular designs and supersaturated designs, Statistica Sinica 13,
 *   691–708; Xu (2002), An algorithm for constructing orthogonal and nearly-orthogonal arrays with mixed levels and
 *   small runs, Technometrics 44, 356–368, for the lower bound of K₂
 */
export function balancedFraction(levelCounts: readonly number[], most: number): Fraction | null {
  const all = combinationsOf(levelCounts)
  const least = 1 + levelCounts.reduce((sum, count) => sum + count - 1, 0)
  const found: (Fraction & { excess: number })[] = []
  for (let size = Math.min(most, all.length); size >= least; size--) {
    const best = bestOfSize(all, levelCounts, size)
    if (!best) continue
    const excess = (best.moments[0] - leastMoment(levelCounts, size)) / size ** 2
    found.push({ positions: best.positions, isOrthogonal: excess < 1e-9, excess })
    if (excess < 1e-9) break
  }
  const [nearest] = found.toSorted((a, b) => a.excess - b.excess || b.positions.length - a.positions.length)
  return nearest ? { positions: nearest.positions, isOrthogonal: nearest.isOrthogonal } : null
}

function combinationsOf(levelCounts: readonly number[]): number[][] {
  return levelCounts.reduce<number[][]>(
    (rows, count) => rows.flatMap((row) => Array.from({ length: count }, (_, level) => [...row, level])),
    [[]],
  )
}

/** K₂, K₃ and K₄ of a choice of combinations. */
type Moments = [number, number, number]
interface Chosen {
  positions: number[]
  moments: Moments
}

function bestOfSize(all: readonly number[][], levelCounts: readonly number[], size: number): Chosen | null {
  const uniform = seededUniform(SEED + size)
  const powers = coincidences(all, levelCounts)
  const least = leastMoment(levelCounts, size)
  let best: Chosen | null = null
  for (let start = 0; start < MOST_STARTS; start++) {
    if (start >= FEWEST_STARTS && best && best.moments[0] - least < 1e-9) break
    const others = all.map((_, position) => position).slice(1)
    const chosen = [0]
    while (chosen.length < size) chosen.push(others.splice(Math.floor(uniform() * others.length), 1)[0]!)
    const found = exchanged(powers, chosen)
    if ((!best || isLess(found.moments, best.moments)) && tellsMainEffects(all, levelCounts, found.positions))
      best = found
  }
  return best && { ...best, positions: best.positions.toSorted((a, b) => a - b) }
}

/** How far every two combinations coincide, to the powers of the moments; a factor counts as many as it has levels. */
function coincidences(all: readonly number[][], levelCounts: readonly number[]): Moments[][] {
  return all.map((one) =>
    all.map((other): Moments => {
      const alike = levelCounts.reduce((sum, count, factor) => sum + (one[factor] === other[factor] ? count : 0), 0)
      return [alike ** 2, alike ** 3, alike ** 4]
    }),
  )
}

/** Exchanges one combination for another while that makes the moments less. The first one, the control, stays. */
function exchanged(powers: readonly Moments[][], start: readonly number[]): Chosen {
  const positions = [...start]
  for (;;) {
    const chosen = new Set(positions)
    // Of every combination, its coincidences with all that are chosen, but for itself.
    const sums = powers.map((row, position) =>
      total(positions.filter((each) => each !== position).map((at) => row[at]!)),
    )
    let best: { at: number; other: number; change: Moments } | null = null
    for (let at = 1; at < positions.length; at++) {
      const leaving = positions[at]!
      for (let other = 1; other < powers.length; other++) {
        if (chosen.has(other)) continue
        const pair = powers[leaving]![other]!
        const change = sums[other]!.map((sum, power) => sum - pair[power]! - sums[leaving]![power]!) as Moments
        if (isLess(change, best?.change ?? [0, 0, 0])) best = { at, other, change }
      }
    }
    if (!best) return { positions, moments: total(positions.map((at) => sums[at]!)).map((sum) => sum / 2) as Moments }
    positions[best.at] = best.other
  }
}

function total(all: readonly Moments[]): Moments {
  return all.reduce<Moments>((sum, each) => [sum[0] + each[0], sum[1] + each[1], sum[2] + each[2]], [0, 0, 0])
}

/** The least that K₂ can be for a size; reached by orthogonal arrays alone (Xu 2002, lemma 1, with weights s_k). */
function leastMoment(levelCounts: readonly number[], size: number): number {
  const sum = levelCounts.reduce((total, count) => total + count, 0)
  const squares = levelCounts.reduce((total, count) => total + (count - 1) * size ** 2, 0)
  return ((size * levelCounts.length) ** 2 + squares - size * sum ** 2) / 2
}

function isLess(one: readonly number[], other: readonly number[]): boolean {
  const at = one.findIndex((value, index) => value !== other[index])
  return at >= 0 && one[at]! < other[at]!
}

/** Whether the columns of the grand mean and all main effects are independent (Gram–Schmidt). */
function tellsMainEffects(
  all: readonly number[][],
  levelCounts: readonly number[],
  positions: readonly number[],
): boolean {
  const columns = [
    positions.map(() => 1),
    ...levelCounts.flatMap((count, factor) =>
      Array.from({ length: count - 1 }, (_, level) =>
        positions.map((position): number => (all[position]![factor] === level + 1 ? 1 : 0)),
      ),
    ),
  ]
  const basis: number[][] = []
  for (const column of columns) {
    const rest = basis.reduce((left, axis) => {
      const share = left.reduce((sum, value, index) => sum + value * axis[index]!, 0)
      return left.map((value, index) => value - share * axis[index]!)
    }, column)
    const length = Math.hypot(...rest)
    if (length < 1e-8) return false
    basis.push(rest.map((value) => value / length))
  }
  return true
}

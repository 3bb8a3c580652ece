import { normalCdf, normalUpperTail } from './distributions'

/** Steps of the grid; 4 in 10⁸ of error at 32 (Jennison, Turnbull 2000, section 19.2). */
const FINE = 32
/** For walks that are repeated many times: errs by 2·10⁻⁴ of a probability with 20 looks. */
export const COARSE = 8

/** Where a walk begins: at zero, or where looks have led to so far. */
export interface WalkStart {
  /** Information fraction that has been reached. */
  fraction: number
  /** The score √t·z there. */
  score: number
}

/**
 * The score process √t·z of a comparison, look by look, while no boundary has been crossed: a Brownian motion with a
 * drift. Its density is carried from look to look on a grid.
 *
 * @see Armitage, McPherson, Rowe (1969); Jennison, Turnbull (2000), chapter 19
 */
export interface ScoreWalk {
  /** Probability to be above a critical value at a look, and not to have crossed before. */
  above: (fraction: number, z: number) => number
  /** The same below a critical value. */
  below: (fraction: number, z: number) => number
  /** Goes on to a look with the critical values ±bound: what lies beyond them has stopped. */
  advance: (fraction: number, bound: number) => void
}

/**
 * What carries the score on: a drift, the expected z at information fraction 1; or no drift that is known, only what the
 * score so far says of it with a flat prior.
 */
export type Drift = number | 'posterior'

/**
 * @param drift - 'posterior' only from where something is known
 * @param from - where it stands
 * @param grid - steps of the grid
 */
export function startWalk(drift: Drift, from: WalkStart = { fraction: 0, score: 0 }, grid = FINE): ScoreWalk {
  let reached = from.fraction
  // Before the first look the process stands where it is known to stand.
  let scores: number[] = [from.score]
  let masses: number[] = [1]
  const beyond = (fraction: number, z: number, side: 1 | -1) => {
    if (z === Infinity * side) return 0
    const edge = z * Math.sqrt(fraction)
    const tail = side === 1 ? normalUpperTail : normalCdf
    const { center, deviation } = stepTo(drift, reached, fraction)
    return scores.reduce((sum, score, node) => sum + masses[node]! * tail((edge - center(score)) / deviation), 0)
  }
  return {
    above: (fraction, z) => beyond(fraction, z, 1),
    below: (fraction, z) => beyond(fraction, z, -1),
    advance(fraction, bound) {
      const root = Math.sqrt(fraction)
      const { center, deviation } = stepTo(drift, reached, fraction)
      const whole = stepTo(drift, from.fraction, fraction)
      const nodes = simpsonNodes(whole.center(from.score) / root, whole.deviation / root, bound, grid)
      const [centers, mass] = [scores.map(center), masses]
      const scale = root / (deviation * Math.sqrt(2 * Math.PI))
      scores = nodes.map(({ z }) => z * root)
      masses = nodes.map(({ z, weight }) => {
        const score = z * root
        let density = 0
        for (let node = 0; node < centers.length; node++) {
          const gap = (score - centers[node]!) / deviation
          density += mass[node]! * Math.exp((-gap * gap) / 2)
        }
        return weight * scale * density
      })
      reached = fraction
    },
  }
}

/** The normal distribution of the score at a fraction, given that at an earlier one. */
function stepTo(drift: Drift, from: number, to: number): { center: (score: number) => number; deviation: number } {
  if (drift === 'posterior')
    return { center: (score) => (score * to) / from, deviation: Math.sqrt(((to - from) * to) / from) }
  return { center: (score) => score + drift * (to - from), deviation: Math.sqrt(to - from) }
}

/** Simpson's rule on z within the bounds: dense where the density lies, thinning out toward the tails. */
function simpsonNodes(center: number, spread: number, bound: number, grid: number): { z: number; weight: number }[] {
  const outer: number[] = []
  for (let i = 1; i < grid; i++) outer.push(-3 - 4 * Math.log(grid / i))
  for (let i = grid; i <= 5 * grid; i++) outer.push(-3 + (3 * (i - grid)) / (2 * grid))
  for (let i = 5 * grid + 1; i < 6 * grid; i++) outer.push(3 + 4 * Math.log(grid / (6 * grid - i)))
  const inside = outer.map((offset) => center + spread * offset).filter((z) => z > -bound && z < bound)
  const edges = bound === Infinity ? inside : [-bound, ...inside, bound]
  const nodes = edges.map((z) => ({ z, weight: 0 }))
  const all = [nodes[0]!]
  for (let i = 1; i < nodes.length; i++) {
    const width = edges[i]! - edges[i - 1]!
    const middle = { z: (edges[i]! + edges[i - 1]!) / 2, weight: (4 * width) / 6 }
    nodes[i - 1]!.weight += width / 6
    nodes[i]!.weight += width / 6
    all.push(middle, nodes[i]!)
  }
  return all
}

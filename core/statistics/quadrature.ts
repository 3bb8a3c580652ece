/** Nodes and weights of the 8-point Gauss–Legendre rule on [−1, 1] (Abramowitz, Stegun 1964, table 25.4). */
const NODES = [0.1834346424956498, 0.525532409916329, 0.7966664774136267, 0.9602898564975363] as const
const WEIGHTS = [0.362683783378362, 0.3137066458778873, 0.2223810344533745, 0.1012285362903763] as const

/**
 * Integral of a smooth function over an interval, exact for polynomials up to degree 15.
 *
 * @param integrand - smooth between the ends
 * @param low - lower end
 * @param high - upper end
 * @example integratePanel((x) => x * x, 0, 3) // 9
 */
export function integratePanel(integrand: (x: number) => number, low: number, high: number): number {
  const center = (low + high) / 2
  const half = (high - low) / 2
  let sum = 0
  for (let index = 0; index < NODES.length; index++) {
    const offset = half * NODES[index]!
    sum += WEIGHTS[index]! * (integrand(center - offset) + integrand(center + offset))
  }
  return sum * half
}

/** Integral over several panels that begin and end at the given points, in ascending order. */
export function integratePanels(integrand: (x: number) => number, breaks: readonly number[]): number {
  let sum = 0
  for (let index = 1; index < breaks.length; index++) {
    if (breaks[index]! > breaks[index - 1]!) sum += integratePanel(integrand, breaks[index - 1]!, breaks[index]!)
  }
  return sum
}

/** Nodes and weights of the rule over panels that begin and end at the given points, for integrands that share them. */
export function panelNodes(breaks: readonly number[]): { nodes: Float64Array; weights: Float64Array } {
  const nodes: number[] = []
  const weights: number[] = []
  for (let index = 1; index < breaks.length; index++) {
    const half = (breaks[index]! - breaks[index - 1]!) / 2
    if (!(half > 0)) continue
    const center = breaks[index - 1]! + half
    for (let node = -4; node < 4; node++) {
      const place = node < 0 ? -1 - node : node
      nodes.push(center + (node < 0 ? -half : half) * NODES[place]!)
      weights.push(half * WEIGHTS[place]!)
    }
  }
  return { nodes: Float64Array.from(nodes), weights: Float64Array.from(weights) }
}

import { COARSE, startWalk, type Drift } from './scoreWalk'

/** Looks that a plan still has, and where it stands. */
export interface Outlook {
  /** z at the last look; 0 with information 0 before the first. */
  z: number
  information: number
  /** Information at each look to come, ascending, above that of now. */
  informations: readonly number[]
  /** Critical |z| at each of them. */
  bounds: readonly number[]
}

/**
 * The chance that a plan still crosses its upper boundary, where the difference is really so large.
 *
 * @param difference - the true one
 * @see Jennison, Turnbull (2000), section 10.2 (stochastic curtailment)
 */
export function conditionalPower(outlook: Outlook, difference: number): number {
  const end = outlook.informations.at(-1)
  return end === undefined ? 0 : chanceAbove(outlook, difference * Math.sqrt(end))
}

/**
 * The same chance, averaged over what the difference may be after the data: the posterior with a flat prior.
 *
 * @returns null before the first look
 * @see Jennison, Turnbull (2000), section 10.3 (predictive power)
 */
export function predictivePower(outlook: Outlook): number | null {
  return outlook.information > 0 ? chanceAbove(outlook, 'posterior') : null
}

function chanceAbove({ z, information, informations, bounds }: Outlook, drift: Drift): number {
  const end = informations.at(-1)!
  const fraction = information / end
  const walk = startWalk(drift, { fraction, score: z * Math.sqrt(fraction) }, COARSE)
  return informations.reduce((crossed, each, look) => {
    const above = walk.above(each / end, bounds[look]!)
    if (look < informations.length - 1) walk.advance(each / end, bounds[look]!)
    return crossed + above
  }, 0)
}

import type { LiftEstimate } from '../statistics/compareArms'

/**
 * How much of what single measurements promised a holdout shows to be there, from 0 to 1: by so much what was shipped in
 * its period is worth less than its own measurements say. More than promised counts as all of it.
 *
 * @param joint - lift of everything together, as the holdout shows it
 * @param promised - sum of the single lifts
 * @returns null where nothing to speak of was promised, or the joint lift is not known
 * @example deliveredShare({ estimate: 0.04, interval: [0.01, 0.07] }, { estimate: 0.1, interval: [0.05, 0.15] }) // 0.4
 */
export function deliveredShare(
  joint: Pick<LiftEstimate, 'estimate' | 'interval'>,
  promised: Pick<LiftEstimate, 'estimate' | 'interval'>,
): number | null {
  if (joint.estimate === null || !promised.estimate || !promised.interval) return null
  const [low, high] = promised.interval
  // What cannot be told from nothing divides nothing.
  if (low <= 0 && high >= 0) return null
  return Math.min(1, Math.max(0, joint.estimate / promised.estimate))
}

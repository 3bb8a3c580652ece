import type { RampStep } from './terms'
import { DAY } from '../time/units'

/** Where a ramp stands: which of its steps, and since when. */
export interface RampState {
  /** From 0 on. */
  step: number
  /** ms since 1970 */
  since: number
}

/** What a ramp says to do. */
export type RampMove =
  /** The share becomes this one; `next` is null where that is the last one. */
  | { do: 'raise'; share: number; next: RampState | null }
  | { do: 'wait'; until: number }
  | { do: 'hold'; reason: string }

/**
 * What a ramp says to do at a moment: a step lasts its days, and the next one is taken only while nothing speaks
 * against it. A share is never lowered: a step that a person has passed by hand is passed over.
 *
 * @param steps - shares with their days, each larger than the one before
 * @param final - the share after the last step
 * @param current - the share at the moment, of 10,000
 * @param against - reasons not to go on, in words
 * @param now - ms since 1970
 * @returns what to do; `hold` only where the step is due
 * @example rampMove([{ share: 500, days: 2 }], 10_000, 500, { step: 0, since: 0 }, [], 2 * DAY)
 * // { do: 'raise', share: 10000, next: null }
 */
export function rampMove(
  steps: readonly RampStep[],
  final: number,
  current: number,
  { step, since }: RampState,
  against: readonly string[],
  now: number,
): RampMove {
  const until = since + (steps[step]?.days ?? 0) * DAY
  if (now < until) return { do: 'wait', until }
  if (against[0] !== undefined) return { do: 'hold', reason: against[0] }
  const following = steps.findIndex(({ share }, index) => index > step && share > current)
  return following < 0
    ? { do: 'raise', share: Math.max(final, current), next: null }
    : { do: 'raise', share: steps[following]!.share, next: { step: following, since: now } }
}

/** What is wrong with the steps of a ramp, in a sentence; null for nothing. */
export function rampProblem(steps: readonly RampStep[], final: number): string | null {
  for (const [index, { share, days }] of steps.entries()) {
    if (!(share > 0)) return 'A step of the ramp takes nobody. Give it a share above 0 %.'
    if (!(days >= 1)) return 'A step of the ramp lasts no day. Give it at least one.'
    const next = steps[index + 1]?.share ?? final
    if (share >= next)
      return `The ramp has ${share / 100} % before ${next / 100} %: each step must be larger than the one before.`
  }
  return null
}

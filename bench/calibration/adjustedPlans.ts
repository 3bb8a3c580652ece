import type { Draws } from '../../core/random/draws'
import { spendingBounds } from '../../core/statistics/errorSpending'
import { mergeMoments, noMoments, type Moments } from '../../core/statistics/moments'
import { sampleSize } from '../../core/statistics/power'
import { adjustForCovariate } from '../../core/statistics/varianceReduction'
import type { Check } from './checks'

const ALPHA = 0.05
const LOOKS = 42
const LIFT = 0.1
const SHARES = Array.from({ length: LOOKS }, (_, look) => (look + 1) / LOOKS)

/** Visitors who came before convert more often. What is expected of each is a model's guess, not quite the truth. */
const RETURNING = 0.4
const RATES = { fresh: 0.06, returning: 0.5 }
const EXPECTED = { fresh: 0.09, returning: 0.42 }
const RATE = RETURNING * RATES.returning + (1 - RETURNING) * RATES.fresh
const BETWEEN = RETURNING * (1 - RETURNING) * (RATES.returning - RATES.fresh) ** 2
/** Share of the variance that is known before the exposure. */
const REMOVED = BETWEEN / (RATE * (1 - RATE))

/** Moments of (converted, expected) of some visitors. */
function drawVisitors(visitors: number, lift: number, draws: Draws): Moments {
  const returning = draws.binomial(visitors, RETURNING)
  return mergeMoments(
    cell(returning, RATES.returning * (1 + lift), EXPECTED.returning, draws),
    cell(visitors - returning, RATES.fresh * (1 + lift), EXPECTED.fresh, draws),
  )
}

function cell(visitors: number, rate: number, expected: number, draws: Draws): Moments {
  if (visitors === 0) return noMoments(2)
  const mean = draws.binomial(visitors, rate) / visitors
  return { ...noMoments(2), count: visitors, means: [mean, expected], comoments: [visitors * mean * (1 - mean), 0, 0] }
}

/** Whether a run of two arms crosses a boundary of the planned end at one of its daily looks. */
function crosses(perArm: number, lift: number, bounds: readonly number[], isAdjusted: boolean, draws: Draws): number {
  const arms = [noMoments(2), noMoments(2)]
  for (let look = 0; look < LOOKS; look++) {
    const aDay = Math.round((perArm * (look + 1)) / LOOKS) - Math.round((perArm * look) / LOOKS)
    arms.forEach((arm, position) => {
      arms[position] = mergeMoments(arm, drawVisitors(aDay, position === 1 ? lift : 0, draws))
    })
    const [control, variant] = adjustForCovariate('conversion', arms).arms.map((arm) =>
      isAdjusted ? arm.adjusted : arm.plain,
    )
    const error = Math.sqrt(control!.variance! / control!.visitors + variant!.variance! / variant!.visitors)
    if (error > 0 && Math.abs(variant!.mean! - control!.mean!) > bounds[look]! * error) return 1
  }
  return 0
}

const bounds = spendingBounds(SHARES, { alpha: ALPHA }, true)
const planned = sampleSize(
  {
    metric: { kind: 'conversion', baseline: RATE },
    alpha: ALPHA,
    weights: [1, 1],
    looks: { rule: 'spending', looks: LOOKS, from: 1 / LOOKS },
  },
  LIFT,
  0.8,
)[0]!
const perArm = Math.ceil(planned * (1 - REMOVED))

/** Plans that adjust by what visitors did before, with as many fewer visitors as variance is removed. */
export const ADJUSTED_PLANS: readonly Check[] = [
  {
    name: `adjusted plan, ${Math.round(REMOVED * 100)} % of the variance removed, ${LOOKS} daily looks, no effect: the variant is told to differ`,
    nominal: 0.052,
    atLeast: 0.04,
    bound: 'at most',
    runs: 6000,
    simulate: (draws) => crosses(perArm, 0, bounds, true, draws),
  },
  {
    name: 'adjusted plan: power at the smallest worthwhile lift, with as many fewer visitors as variance is removed',
    nominal: 0.8,
    bound: 'equal',
    // Where converting is more frequent it also varies more, so that a little less is removed.
    tolerance: 0.02,
    runs: 4000,
    simulate: (draws) => crosses(perArm, LIFT, bounds, true, draws),
  },
  {
    name: 'adjusted plan: power with the same visitors, without the adjustment',
    nominal: 0.75,
    bound: 'at most',
    runs: 4000,
    simulate: (draws) => crosses(perArm, LIFT, bounds, false, draws),
  },
]

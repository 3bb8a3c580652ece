import { shipChances } from '../../../core/verdict/planOutlook'
import { decidedPlan } from '../../../core/sheet/planReading'
import type { Verdict } from '../../../core/verdict/verdict'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { comparedArms } from './comparedArms'
import type { ExperimentResults } from '../../../shared/experiments/resultsReplies'

/** The last days of a run say best how many come. */
const LAST_DAYS = 7

/**
 * The chance that an experiment that goes on still ends with Ship, and whether its plan advises to stop.
 *
 * @param days - visitors of each whole day that is over, in their order
 * @param looks - see `StandingRun`
 */
export function readOutlook(
  sheet: ExperimentSheet,
  { metrics, daysRun }: Pick<ExperimentResults, 'metrics' | 'daysRun'>,
  verdict: Verdict | null,
  days: readonly { visitors: number }[],
  looks: readonly (readonly number[])[],
): ExperimentResults['outlook'] {
  const primary = metrics.find(({ metric }) => metric.role === 'primary')
  const last = days.slice(-LAST_DAYS)
  // Where the weights move, how many each variant will get is not known.
  if (sheet.state !== 'running' || !primary || last.length === 0 || sheet.periods.length > 0) return null
  if (verdict?.kind !== 'go-on' && verdict?.kind !== 'early') return null
  const visitorsADay = last.reduce((sum, each) => sum + each.visitors, 0) / last.length
  const arms = comparedArms(primary).filter((arm) => arm !== null)
  if (arms.length < primary.arms.length) return null
  const plan = decidedPlan(sheet.plan)
  const chances = shipChances({
    plan,
    direction: primary.metric.direction,
    weights: sheet.variants.map(({ weight }) => weight),
    daysRun,
    visitorsADay,
    arms,
    looks,
  })
  const variants = chances.flatMap((chance, index) =>
    chance === null || primary.comparisons[index]!.shortfall
      ? []
      : [
          {
            variant: sheet.variants[index + 1]!.name,
            predictive: chance.predictive,
            asSeen: chance.asSeen,
            worthwhile: chance.worthwhile,
          },
        ],
  )
  if (variants.length === 0) return null
  const best = Math.max(...variants.map(({ predictive }) => predictive))
  const isLittle = verdict.kind === 'go-on' && variants.length === chances.length && best < (plan.leastChance ?? 0)
  return { visitorsADay, isLittle, variants }
}

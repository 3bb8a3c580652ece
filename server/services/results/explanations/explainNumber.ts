import type { ExperimentResults, Explanation } from '../../../../shared/experiments/resultsReplies'
import type { ExperimentSheet } from '../../../../shared/experiments/replies'
import type { InferType } from 'yup'
import { liftInterval } from '../../../../core/analysis/readings'
import type { numberSchema } from '../../../../shared/experiments/explanation'
import { formatInterval } from '../../../../shared/formats'
import { HttpProblem } from '../../HttpProblem'
import {
  explainAllocation,
  explainBest,
  explainInterval,
  explainLift,
  explainLoss,
  explainMean,
  explainPValue,
  explainProbabilityBetter,
  explainReduction,
  explainSum,
  explainVisitors,
  type Place,
  type Words,
} from './explanations'
import { lastWholeDay } from '../wholeWindows'
import { pastSql, sumsSql, visitorsSql } from './numberSql'

/** What stands behind one number of an experiment, with the statement that reads its inputs. */
export function explainNumber(
  sheet: ExperimentSheet,
  { allocation, metrics }: Pick<ExperimentResults, 'allocation' | 'metrics'>,
  { number, metric, variant, method }: InferType<typeof numberSchema>,
  now: Date,
): Explanation {
  if (number === 'allocation') {
    if (!allocation) throw new HttpProblem(404, 'There is no split to check yet.')
    const names = sheet.variants.map(({ name }) => name)
    return {
      source: null,
      ...explainAllocation(allocation, names),
      sql: visitorsSql({ siteId: sheet.siteId, id: sheet.id, lastDay: null }),
    }
  }
  const results = metrics.find((each) => each.metric.versionId === metric)
  if (!results) throw new HttpProblem(404, 'This metric is not on the sheet any more. Reload the page.')
  const isComparison = !['visitors', 'sum', 'mean', 'best'].includes(number)
  if (variant >= results.arms.length || (isComparison && variant === 0))
    throw new HttpProblem(404, 'There is no such variant to compare with the control. Reload the page.')
  const place: Place = { sheet, results, position: variant }
  const where = { siteId: sheet.siteId, id: sheet.id, lastDay: lastWholeDay(sheet, results.metric, now) }
  const sql = number === 'visitors' ? visitorsSql(where) : sumsSql(where, results.metric.versionId)
  if (number !== 'variance-reduction') return { source: null, sql, ...explained() }
  if (!results.comparisons[variant - 1]!.varianceReduction)
    throw new HttpProblem(404, 'Nobody has an earlier visit yet, so there is nothing to take out.')
  return { source: null, ...explainReduction(place), sql: pastSql(where, results.metric.versionId) }

  function explained(): Words {
    switch (number) {
      case 'visitors':
        return explainVisitors(place)
      case 'sum':
        return explainSum(place)
      case 'mean':
        return explainMean(place)
      case 'lift':
        return explainLift(place)
      case 'interval':
        return explainInterval(place, method, formatInterval(liftInterval(results!.comparisons[variant - 1]!, method)))
      case 'p-value':
        return explainPValue(place, method)
      case 'probability-better':
        return explainProbabilityBetter(place)
      case 'loss':
        return explainLoss(place)
      default:
        return explainBest(place)
    }
  }
}

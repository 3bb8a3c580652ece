import type { EventsStatement } from '../../../../shared/experiments/resultsReplies'
import type { ExperimentSheet, MetricView } from '../../../../shared/experiments/replies'
import { sql } from 'drizzle-orm'
import type { InferType } from 'yup'
import { countingOf } from '../../../../core/measurement/counting'
import { PAST_DAYS } from '../../../../core/measurement/visitorNumbers'
import { isPlainRule } from '../../../../core/targeting/pageRule'
import type { numberSchema } from '../../../../shared/experiments/explanation'
import { formatDate } from '../../../../shared/formats'
import type { Queries } from '../../../database/connect'
import { HttpProblem } from '../../HttpProblem'
import { findSite } from '../../sites/sites'
import type { Occurring } from '../../statements/occurring'
import { lastWholeDay } from '../wholeWindows'
import { eventsSql } from './eventsSql'
import { DAY } from '../../../../core/time/units'

/**
 * The statement that computes what a number is made of from views and events, where these are still there.
 *
 * @throws HttpProblem 404 for a metric that is not on the sheet, and before the start
 */
export async function eventsStatement(
  database: Queries,
  sheet: ExperimentSheet,
  { number, metric: asked }: InferType<typeof numberSchema>,
  now: Date,
): Promise<EventsStatement> {
  const metric = sheet.metrics.find(({ versionId }) => number === 'allocation' || versionId === asked)
  if (!metric) throw new HttpProblem(404, 'This metric is not on the sheet any more. Reload the page.')
  if (sheet.startedAt === null) throw new HttpProblem(404, 'Nothing is counted before the start.')
  if (number === 'variance-reduction' && sheet.expectation && metric.role === 'primary')
    return {
      sql: null,
      missing: 'What visitors were expected to do is computed by code. It is kept with each visitor’s value.',
    }
  const { rawSince, timeZone } = await findSite(database, sheet.siteId)
  const needed = Date.parse(sheet.startedAt) - (number === 'variance-reduction' ? PAST_DAYS * DAY : 0)
  if (rawSince && rawSince.getTime() > needed)
    return {
      sql: null,
      missing: `Events from before ${formatDate(rawSince.getTime(), timeZone)} are deleted, so they cannot be counted again. The sums are kept.`,
    }
  const lastDay = number === 'allocation' ? null : lastWholeDay(sheet, metric, now)
  return { sql: eventsSql(sheet, metric, await readOccurring(database, sheet, metric), lastDay), missing: null }
}

/** The addresses and elements that occur, where a metric asks of them what only code can tell. */
async function readOccurring(database: Queries, sheet: ExperimentSheet, metric: MetricView): Promise<Occurring> {
  const countings = [metric.source, ...(metric.denominator ? [metric.denominator] : [])].map(countingOf)
  const steps = countings.flatMap((each) => (each.of === 'steps' ? [each] : []))
  const asksAddresses = steps.some(({ pages }) => pages === 'tested' || (pages && !isPlainRule(pages)))
  const asksElements = steps.some(({ anyOf }) => anyOf.some(({ within }) => within !== undefined))
  const since = new Date(Date.parse(sheet.startedAt!) - PAST_DAYS * DAY).toISOString()
  const happened = sql`site_id = ${sheet.siteId} AND occurred_at >= ${since}`
  const texts = async (statement: ReturnType<typeof sql>) =>
    (await database.execute<{ text: string }>(statement)).rows.map(({ text }) => text)
  return {
    basis: sheet,
    visits: {
      addresses: {
        texts: asksAddresses
          ? await texts(sql`
              SELECT address AS text FROM page_view WHERE ${happened} UNION SELECT address FROM event WHERE ${happened}`)
          : [],
      },
      elements: {
        texts: asksElements
          ? await texts(sql`SELECT DISTINCT element AS text FROM event WHERE ${happened} AND element IS NOT NULL`)
          : [],
      },
    },
  }
}

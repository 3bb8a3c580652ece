import { asMeasured } from '../../../core/sheet/wordings'
import { deliveredShare } from '../../../core/verdict/deliveredShare'
import { monthlyGain } from '../../../core/verdict/monthlyGain'
import type { ShippedWorth } from '../../../shared/hypotheses/replies'
import type { Queries } from '../../database/connect'
import { holdout } from '../../database/schema'
import { and, desc, eq, isNotNull, isNull } from 'drizzle-orm'
import { findSheets } from '../experiments/sheet'
import { decisiveLift } from '../results/decisiveReading'
import { experimentResults } from '../results/results'
import { concerns } from '../traffic/heldOut'

/**
 * What is served is worth in a month by its own measurement, with how much of that a holdout has shown to be there.
 *
 * @param shipped - sheets, the position of the variant that is served, and of a winner since when
 */
export async function worthOfShipped(
  database: Queries,
  siteId: number,
  shipped: readonly { experiment: number; position: number; rolledOutAt?: Date }[],
  now: Date,
): Promise<ShippedWorth[]> {
  const sheets = await findSheets(
    database,
    siteId,
    shipped.map(({ experiment }) => experiment),
  )
  const worths: ShippedWorth[] = []
  for (const { experiment, position, rolledOutAt } of shipped) {
    const found = sheets.find(({ id }) => id === experiment)
    if (!found) continue
    const sheet = asMeasured(found)
    const results = await experimentResults(database, sheet, now)
    const primary = results.metrics.find(({ metric }) => metric.role === 'primary')
    const comparison = primary?.comparisons[position - 1]
    const mean = primary?.arms[0]?.mean ?? null
    if (!results.money || !primary || !comparison || mean === null) continue
    const { estimate, interval } = decisiveLift(sheet, comparison)
    const { visitorsAMonth, unitValue } = results.money
    const scale = { visitorsAMonth, mean, unitValue, direction: primary.metric.direction }
    const gain = monthlyGain(scale, estimate, interval)
    if (gain)
      worths.push({
        experiment,
        ...gain,
        currency: sheet.currency,
        delivered: await deliveredBy(database, siteId, [new Date(sheet.startedAt!), rolledOutAt], primary.metric.id),
      })
  }
  return worths
}

/** What the latest holdout that was closed has shown of the promises of its period, in a metric. */
async function deliveredBy(
  database: Queries,
  siteId: number,
  begun: readonly (Date | undefined)[],
  metricId: string,
): Promise<ShippedWorth['delivered']> {
  const closed = await database
    .select({
      id: holdout.id,
      name: holdout.name,
      startsAt: holdout.startsAt,
      endsAt: holdout.endsAt,
      reading: holdout.reading,
    })
    .from(holdout)
    .where(and(eq(holdout.siteId, siteId), isNull(holdout.deletedAt), isNotNull(holdout.closedAt)))
    .orderBy(desc(holdout.closedAt))
  for (const row of closed.filter((each) => begun.some((at) => at && concerns(each, at)))) {
    const read = row.reading?.metrics.find(({ metric }) => metric.id === metricId)
    if (!read?.promised || read.shortfall || row.reading!.allocation.alarm) continue
    const { lift, interval } = read.promised
    const share = deliveredShare(read.lift, { estimate: lift, interval })
    if (share !== null) return { share, holdout: row.id, name: row.name }
  }
  return null
}

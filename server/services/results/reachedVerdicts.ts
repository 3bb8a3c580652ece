import type { ExperimentResults } from '../../../shared/experiments/resultsReplies'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { and, eq } from 'drizzle-orm'
import { isConclusion, type ReachedVerdict } from '../../../core/verdict/reachedVerdict'
import type { Queries } from '../../database/connect'
import { reachedVerdict } from '../../database/schema'
import { tell } from '../notifications/tell'
import { decisiveLift } from './decisiveReading'
import { latestLooks, stoppedLooks } from './plannedLooks'

/** The first verdict of an experiment that ended the question, or null. */
export async function readReachedVerdict(
  database: Queries,
  siteId: number,
  experimentId: number,
): Promise<ReachedVerdict | null> {
  const [found] = await database
    .select({ content: reachedVerdict.content })
    .from(reachedVerdict)
    .where(and(eq(reachedVerdict.siteId, siteId), eq(reachedVerdict.experimentId, experimentId)))
  return found?.content ?? null
}

/**
 * Keeps what the numbers of a moment say, if that ends the question and nothing has before.
 *
 * @returns what is kept by now
 */
export async function keepVerdict(
  database: Queries,
  sheet: ExperimentSheet,
  { verdict, metrics, daysRun, visitors }: Pick<ExperimentResults, 'verdict' | 'metrics' | 'daysRun' | 'visitors'>,
  at: Date,
): Promise<ReachedVerdict | null> {
  const known = await readReachedVerdict(database, sheet.siteId, sheet.id)
  if (known || !verdict || !isConclusion(verdict)) return known
  const primary = metrics.find(({ metric }) => metric.role === 'primary')
  const stopped = await stoppedLooks(database, sheet, await latestLooks(database, sheet))
  const content: ReachedVerdict = {
    verdict,
    at: at.toISOString(),
    daysRun,
    visitors,
    rule: sheet.plan.rule,
    variants: (primary?.comparisons ?? []).map((comparison, index) => {
      const { estimate, interval } = decisiveLift(sheet, comparison)
      return {
        name: sheet.variants[index + 1]!.name,
        visitors: primary!.arms[index + 1]!.visitors,
        lift: estimate,
        interval,
        ...(comparison.planned ? { adjusted: stopped.get(index + 1)?.adjusted ?? null } : {}),
      }
    }),
  }
  const kept = await database
    .insert(reachedVerdict)
    .values({ siteId: sheet.siteId, experimentId: sheet.id, content })
    .onConflictDoNothing()
    .returning({ id: reachedVerdict.experimentId })
  if (kept.length > 0)
    await tell(database, {
      siteId: sheet.siteId,
      experimentId: sheet.id,
      kind: 'verdict',
      cause: `verdict of ${sheet.id}`,
      title: sheet.name,
      text: [`${verdict.title}.`, ...verdict.reasons].join(' '),
      path: `/experiments/${sheet.id}`,
      at,
    })
  return readReachedVerdict(database, sheet.siteId, sheet.id)
}

import type { SetAsideView } from '../../../shared/sites/replies'
import { count, desc, eq, min } from 'drizzle-orm'
import type { Database, Queries } from '../../database/connect'
import { setAside } from '../../database/schema'
import { recordChange } from '../changes'
import { takeBackSetAside } from './fold'
import { refreshDueSummaries } from './foldAndSummarize'

/** Views and events of a site that could not be counted, by reason, the most frequent first. */
export async function readSetAside(database: Queries, siteId: number): Promise<SetAsideView[]> {
  const rows = await database
    .select({ reason: setAside.reason, events: count(), since: min(setAside.at) })
    .from(setAside)
    .where(eq(setAside.siteId, siteId))
    .groupBy(setAside.reason)
    .orderBy(desc(count()))
  return rows.map(({ reason, events, since }) => ({ reason, events, since: since!.toISOString() }))
}

/** Tries once more to count what was set aside. */
export async function countSetAside(
  database: Database,
  siteId: number,
  personId: number | null,
): Promise<{ counted: number; left: number }> {
  const { folded, left } = await takeBackSetAside(database.$client, siteId)
  if (folded > 0)
    await recordChange(database, {
      siteId,
      personId,
      subject: 'site',
      subjectId: siteId,
      action: 'changed',
      after: { eventsCountedThatWereSetAside: folded },
    })
  await refreshDueSummaries(database, new Date())
  return { counted: folded, left }
}

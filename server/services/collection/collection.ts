import type { CollectionView } from '../../../shared/collection/replies'
import { eq, inArray, sql } from 'drizzle-orm'
import { BEHAVIOR_TYPES, type SurveyType } from '../../../core/evidence/behavior'
import type { CollectionSettings } from '../../../shared/collection/collection'
import type { Database, Queries } from '../../database/connect'
import { event, recording, site, visitor } from '../../database/schema'
import { recordChange } from '../changes'
import { compileSiteFile } from '../sites/compileSiteFile'
import { findSite } from '../sites/sites'
import { runningSurveys } from '../surveys/runningSurveys'

const LATELY_DAYS = 7
const ASKED: SurveyType = 'asked'

/** What a site collects beside views, clicks and sent forms, and how much of it came lately. */
export async function readCollection(database: Queries, siteId: number): Promise<CollectionView> {
  const { collection, asksConsent, retentionDays } = await findSite(database, siteId)
  const since = sql`now() - make_interval(days => ${LATELY_DAYS})`
  const [seen] = await database
    .select({ visitors: sql<number>`count(*)::int` })
    .from(visitor)
    .where(
      sql`${visitor.siteId} = ${siteId} AND ${visitor.lastSeenAt} > ${since} AND ${visitor.leftOut} IS NULL AND ${visitor.id} NOT LIKE '~%'`,
    )
  const isBehavior = inArray(event.type, [...BEHAVIOR_TYPES])
  const [told] = await database
    .select({
      behaving: sql<number>`count(DISTINCT ${event.visitorId}) FILTER (WHERE ${isBehavior})::int`,
      events: sql<number>`count(*) FILTER (WHERE ${isBehavior})::int`,
      asked: sql<number>`count(DISTINCT ${event.visitorId}) FILTER (WHERE ${event.type} = ${ASKED})::int`,
    })
    .from(event)
    .where(
      sql`${event.siteId} = ${siteId} AND ${event.occurredAt} > ${since} AND ${inArray(event.type, [...BEHAVIOR_TYPES, ASKED])}`,
    )
  const [kept] = await database
    .select({
      recordings: sql<number>`count(*) FILTER (WHERE ${recording.receivedAt} > ${since})::int`,
      bytes: sql<number>`coalesce(sum(${recording.bytes}), 0)::float8`,
    })
    .from(recording)
    .where(eq(recording.siteId, siteId))
  const lately = { ...seen!, ...told!, recordings: kept!.recordings }
  const surveys = (await runningSurveys(database, siteId)).map(({ id, name, pages, share }) => ({
    id,
    name,
    pages,
    share,
  }))
  return { ...collection, asksConsent, retentionDays, recordedBytes: kept!.bytes, lately, surveys }
}

/** Changes it. Browsers go by it with their next page. */
export async function updateCollection(
  database: Database,
  siteId: number,
  personId: number | null,
  settings: CollectionSettings,
): Promise<CollectionView> {
  await database.transaction(async (tx) => {
    const before = await findSite(tx, siteId)
    await tx.update(site).set({ collection: settings }).where(eq(site.id, siteId))
    await compileSiteFile(tx, siteId)
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'collection',
      subjectId: siteId,
      action: 'changed',
      before: { ...before.collection },
      after: { ...settings },
    })
  })
  return readCollection(database, siteId)
}

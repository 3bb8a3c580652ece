import type { AudienceSize } from '../../../shared/audiences/replies'
import { sql } from 'drizzle-orm'
import type { Group } from '../../../core/targeting/condition'
import { conditionInWords, FACT_WORDS } from '../../../core/targeting/conditionWords'
import { replayVisitor, unknownFromPast } from '../../../core/targeting/replay'
import type { Database } from '../../database/connect'
import { lookedBackTo } from '../experiments/forecast'
import { findSite } from '../sites/sites'
import { leftOutVisitors } from '../visitors/leftOut'
import { pastOfVisitors } from './pastOfVisitors'
import { audienceInliner, listAudiences } from './savedAudiences'

/** Visitors who are looked at: their share is known to within two percent. */
const SAMPLE = 5000

/** Some of the visitors whom a site had since a moment, drawn by their ids, and how many there were. */
export async function visitorsSince(
  database: Database,
  siteId: number,
  from: string,
  now: Date,
  most: number,
): Promise<{ all: number; drawn: string[] }> {
  const seen = sql`
    SELECT DISTINCT visitor_id FROM page_view
    WHERE site_id = ${siteId} AND occurred_at >= ${from} AND occurred_at < ${now.toISOString()}
      AND NOT is_robot AND NOT is_team AND visitor_id NOT IN (${leftOutVisitors(siteId)})`
  const { rows } = await database.execute<{ visitor: string; all: number }>(sql`
    SELECT visitor_id AS visitor, (count(*) OVER ())::int AS "all" FROM (${seen}) AS seen
    ORDER BY hashtext(visitor_id), visitor_id LIMIT ${most}`)
  return { all: rows[0]?.all ?? 0, drawn: rows.map(({ visitor }) => visitor) }
}

/** How many visitors of the last four weeks conditions would have let in, on whatever page. */
export async function audienceSize(
  database: Database,
  siteId: number,
  conditions: Group,
  now: Date,
): Promise<AudienceSize> {
  const inline = await audienceInliner(database, siteId)
  const audience = inline(conditions, null)
  const { attributes } = await findSite(database, siteId)
  const from = lookedBackTo(now)
  const { all, drawn } = await visitorsSince(database, siteId, from, now, SAMPLE)
  const since = Date.parse(from)
  let inside = 0
  const failing = conditions.of.map(() => 0)
  for await (const [, past] of pastOfVisitors(database, siteId, drawn, audience, ({ at }) => at >= since)) {
    const replayed = replayVisitor(audience, past)
    if (replayed.entered) inside++
    for (const index of replayed.failing) failing[index]!++
  }
  const names = await audienceNames(database, siteId)
  return {
    visitors: all,
    looked: drawn.length,
    inside,
    unknown: unknownFromPast(audience, attributes).map((fact) => FACT_WORDS[fact]),
    keptOut: conditions.of.map((each, index) => ({
      words: conditionInWords(each, { audiences: names }),
      visitors: failing[index]!,
    })),
  }
}

/** Names of the saved audiences by their ids. */
export async function audienceNames(database: Database, siteId: number): Promise<Record<number, string>> {
  return Object.fromEntries((await listAudiences(database, siteId)).map(({ id, name }) => [id, name]))
}

import type { ExclusionView } from '../../../shared/experiments/replies'
import { and, desc, eq, sql } from 'drizzle-orm'
import type PgBoss from 'pg-boss'
import type { InferType } from 'yup'
import type { exclusionSchema } from '../../../shared/experiments/exclusion'
import { pageOf, type Paged, type PageQuery } from '../../../shared/api/paging'
import type { Database, Queries } from '../../database/connect'
import { olderThan } from '../../database/olderThan'
import { exclusion, person } from '../../database/schema'
import { requestRefold } from '../../jobs/backgroundJobs'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { findSheet, type Target } from './sheet'

/** A page of who is left out of an experiment's numbers by a decision of its owner, the latest first. */
export async function listExclusions(
  database: Queries,
  siteId: number,
  experimentId: number,
  { after, limit }: PageQuery,
): Promise<Paged<ExclusionView>> {
  const rows = await database
    .select({ own: exclusion, person: person.name })
    .from(exclusion)
    .leftJoin(person, eq(person.id, exclusion.createdBy))
    .where(and(eq(exclusion.siteId, siteId), eq(exclusion.experimentId, experimentId), olderThan(exclusion.id, after)))
    .orderBy(desc(exclusion.id))
    .limit(limit + 1)
  const items = rows.map(({ own, person: by }) => ({
    id: own.id,
    kind: own.kind,
    visitor: own.visitorId,
    from: own.from?.toISOString() ?? null,
    until: own.until?.toISOString() ?? null,
    reason: own.reason,
    person: by,
    at: own.createdAt.toISOString(),
  }))
  return pageOf(items, limit)
}

/**
 * Leaves visitors out of an experiment's numbers, with the reason in the change log.
 *
 * @returns id of what was left out
 */
export async function addExclusion(
  database: Database,
  queue: PgBoss,
  target: Target,
  input: InferType<typeof exclusionSchema>,
): Promise<number> {
  const { siteId, experimentId, personId } = target
  const { name } = await findSheet(database, siteId, experimentId)
  return database.transaction(async (tx) => {
    const visitorIds = input.kind === 'network' ? await broughtBy(tx, target, input.network!) : null
    const [made] = await tx
      .insert(exclusion)
      .values({
        siteId,
        experimentId,
        kind: input.kind,
        reason: input.reason,
        createdBy: personId,
        visitorId: input.kind === 'visitor' ? input.visitor : null,
        network: input.kind === 'network' ? input.network : null,
        visitorIds,
        from: input.kind === 'span' ? new Date(input.from!) : null,
        until: input.kind === 'span' ? new Date(input.until!) : null,
      })
      .onConflictDoNothing()
      .returning()
    if (!made) throw new HttpProblem(409, 'The team’s networks are left out already.')
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'experiment',
      subjectId: experimentId,
      action: 'left out',
      after: { ...input },
    })
    await requestRefold(tx, queue, siteId, experimentId, `Leaving visitors out of ${name}`)
    return made.id
  })
}

/** The visitors whom a network has brought to an experiment. */
async function broughtBy(database: Queries, { siteId, experimentId }: Target, network: string): Promise<string[]> {
  const { rows } = await database.execute<{ id: string }>(sql`
    SELECT x.visitor_id AS id FROM exposure x
    JOIN page_view v ON v.site_id = x.site_id AND v.visitor_id = x.visitor_id AND v.id = x.view_id
    WHERE x.site_id = ${siteId} AND x.experiment_id = ${experimentId} AND v.network = ${network}`)
  if (rows.length === 0) throw new HttpProblem(404, 'Nobody who counts came from this network. Reload the page.')
  return rows.map(({ id }) => id)
}

/** Counts again whoever was left out. */
export async function removeExclusion(
  database: Database,
  queue: PgBoss,
  target: Target,
  exclusionId: number,
): Promise<void> {
  const { siteId, experimentId, personId } = target
  const { name } = await findSheet(database, siteId, experimentId)
  await database.transaction(async (tx) => {
    const [gone] = await tx
      .delete(exclusion)
      .where(and(eq(exclusion.siteId, siteId), eq(exclusion.experimentId, experimentId), eq(exclusion.id, exclusionId)))
      .returning()
    if (!gone) throw new HttpProblem(404, 'This is not left out any more.')
    const { kind, visitorId, from, until, reason } = gone
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'experiment',
      subjectId: experimentId,
      action: 'counted again',
      before: { kind, visitorId, from, until, reason },
    })
    await requestRefold(tx, queue, siteId, experimentId, `Counting visitors of ${name} again`)
  })
}

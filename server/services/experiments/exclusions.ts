import type { ExclusionView } from '../../../shared/experiments/replies'
import { and, desc, eq } from 'drizzle-orm'
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
import { visitorsOfCrowd } from '../results/crowds'
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
    crowd: own.crowd,
    segment: own.segment,
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
    const visitorIds = input.kind === 'crowd' ? await visitorsOfCrowd(tx, target, input.crowd!) : null
    const [made] = await tx
      .insert(exclusion)
      .values({
        siteId,
        experimentId,
        kind: input.kind,
        reason: input.reason,
        createdBy: personId,
        visitorId: input.kind === 'visitor' ? input.visitor : null,
        crowd: input.kind === 'crowd' ? input.crowd : null,
        visitorIds,
        segment: input.kind === 'segment' ? input.segment : null,
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
    const { kind, visitorId, crowd, segment, from, until, reason } = gone
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'experiment',
      subjectId: experimentId,
      action: 'counted again',
      before: { kind, visitorId, crowd, segment, from, until, reason },
    })
    await requestRefold(tx, queue, siteId, experimentId, `Counting visitors of ${name} again`)
  })
}

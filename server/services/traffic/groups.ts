import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { ExclusionGroupView } from '../../../shared/traffic/replies'
import { randomBytes } from 'node:crypto'
import { and, asc, eq, inArray, isNull, sql } from 'drizzle-orm'
import { BUCKETS } from '../../../core/assignment/assignment'
import { freeRanges, sizeOf, takeBuckets, type Part } from '../../../core/assignment/bucketSpace'
import type { GroupInput } from '../../../shared/traffic/traffic'
import type { Queries, Database } from '../../database/connect'
import { exclusionGroup, experiment } from '../../database/schema'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'

type GroupRow = typeof exclusionGroup.$inferSelect
const ofGroup = (id: number) => sql`(${experiment.terms}->>'group')::int = ${id}`
/** What visitors may get again: of a paused experiment they keep their variants. */
const LIVE = ['running', 'paused'] as const

/** Groups of a site with who has which part of them. */
export async function listGroups(database: Queries, siteId: number): Promise<ExclusionGroupView[]> {
  const groups = await database
    .select()
    .from(exclusionGroup)
    .where(and(eq(exclusionGroup.siteId, siteId), isNull(exclusionGroup.deletedAt)))
    .orderBy(asc(exclusionGroup.name), asc(exclusionGroup.id))
  const members = await database
    .select()
    .from(experiment)
    .where(
      and(
        eq(experiment.siteId, siteId),
        isNull(experiment.deletedAt),
        inArray(experiment.state, ['draft', ...LIVE]),
        sql`${experiment.terms}->>'group' IS NOT NULL`,
      ),
    )
    .orderBy(asc(experiment.id))
  return groups.map(({ id, name, kind }) => {
    const own = members.filter(({ terms }) => terms.group === id)
    const ordered = kind === 'turns' ? own.toSorted((one, other) => one.terms.rank - other.terms.rank) : own
    const parts = partsOf(own)
    return {
      id,
      name,
      kind,
      free: kind === 'parts' ? sizeOf(freeRanges(parts)) : null,
      members: ordered.map((each) => ({
        experiment: each.id,
        name: each.name,
        state: each.state,
        share: each.share,
        rank: each.terms.rank,
        ranges: (each.buckets ?? []).map(([from, to]): [number, number] => [from, to]),
      })),
    }
  })
}

function partsOf(members: readonly (typeof experiment.$inferSelect)[]): Part[] {
  return members.flatMap(({ id, buckets }) => (buckets ? [{ experiment: id, ranges: buckets }] : []))
}

export async function createGroup(
  database: Database,
  siteId: number,
  personId: number | null,
  { name, kind }: GroupInput,
): Promise<ExclusionGroupView[]> {
  return database.transaction(async (tx) => {
    await refuseSameName(tx, siteId, name)
    const salt = randomBytes(6).toString('base64url')
    const [made] = await tx.insert(exclusionGroup).values({ siteId, name, kind, salt, createdBy: personId }).returning()
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'exclusion group',
      subjectId: made!.id,
      action: 'added',
      after: { name, kind },
    })
    return listGroups(tx, siteId)
  })
}

/** Takes a group away that no draft or live experiment is in. */
export async function deleteGroup(
  database: Database,
  siteId: number,
  personId: number | null,
  groupId: number,
): Promise<ExclusionGroupView[]> {
  return database.transaction(async (tx) => {
    await findGroup(tx, siteId, groupId)
    const used = (await listGroups(tx, siteId)).find(({ id }) => id === groupId)!.members[0]
    if (used) throw new HttpProblem(409, `“${used.name}” is in this group. Take it out, or end it, before.`)
    await tx
      .update(exclusionGroup)
      .set({ deletedAt: new Date() })
      .where(and(eq(exclusionGroup.siteId, siteId), eq(exclusionGroup.id, groupId)))
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'exclusion group',
      subjectId: groupId,
      action: 'deleted',
    })
    return listGroups(tx, siteId)
  })
}

async function refuseSameName(tx: Queries, siteId: number, name: string): Promise<void> {
  const same = (await listGroups(tx, siteId)).some((each) => each.name.toLowerCase() === name.toLowerCase())
  if (same) throw new HttpProblem(409, 'A group has this name already.', { name: 'A group has this name already.' })
}

export async function findGroup(tx: Queries, siteId: number, groupId: number): Promise<GroupRow> {
  const [found] = await tx
    .select()
    .from(exclusionGroup)
    .where(and(eq(exclusionGroup.siteId, siteId), eq(exclusionGroup.id, groupId), isNull(exclusionGroup.deletedAt)))
  if (!found) throw new HttpProblem(422, 'This group does not exist on this site. Choose another, or none.')
  return found
}

/**
 * Takes buckets for an experiment in its group, in the transaction of its start or of a larger share; what it has it
 * keeps.
 *
 * @param share - how many it is to have in the end, of 10,000
 * @throws HttpProblem 409 where not as many are left
 */
export async function reserveBuckets(
  tx: Queries,
  { id, siteId, terms }: ExperimentSheet,
  share: number,
): Promise<void> {
  if (terms.group === null) return
  // One after the other: two starts at once never get the same buckets.
  const [group] = await tx
    .select()
    .from(exclusionGroup)
    .where(and(eq(exclusionGroup.siteId, siteId), eq(exclusionGroup.id, terms.group)))
    .for('no key update')
  if (group?.kind !== 'parts') return
  const members = await tx
    .select()
    .from(experiment)
    .where(and(eq(experiment.siteId, siteId), inArray(experiment.state, [...LIVE]), ofGroup(group.id)))
  const parts = partsOf(members)
  const buckets = takeBuckets(parts, id, share)
  if (!buckets) {
    const own = sizeOf(parts.find((part) => part.experiment === id)?.ranges ?? [])
    const most = (sizeOf(freeRanges(parts)) + own) / (BUCKETS / 100)
    const message = `The group “${group.name}” has at most ${most} % of the visitors left for this experiment.`
    throw new HttpProblem(409, message, { share: message })
  }
  await tx
    .update(experiment)
    .set({ buckets })
    .where(and(eq(experiment.siteId, siteId), eq(experiment.id, id)))
}

/** What draws the buckets of each group. */
export async function groupSalts(database: Queries, siteId: number): Promise<Map<number, string>> {
  const rows = await database
    .select({ id: exclusionGroup.id, salt: exclusionGroup.salt })
    .from(exclusionGroup)
    .where(eq(exclusionGroup.siteId, siteId))
  return new Map(rows.map(({ id, salt }) => [id, salt]))
}

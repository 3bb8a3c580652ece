import { firstBuckets } from '../../../core/assignment/bucketSpace'
import type { GroupPlace } from '../../../core/targeting/whyNot'
import type { Queries } from '../../database/connect'
import { environmentShare, experiment, site } from '../../database/schema'
import { groupSalts, listGroups } from '../traffic/groups'
import type { ExperimentRow, SiteRow } from './compileSiteFile'
import { and, asc, eq, inArray, isNull } from 'drizzle-orm'

/** What visitors get at the moment, and what still measures. */
export interface Live {
  rows: ExperimentRow[]
  /** Those, and what is paused: its visitors stay its own. */
  taking: ExperimentRow[]
  /** Experiments whose metrics are listened for: paused ones too, as their visitors still convert. */
  measured: number[]
  /** Whether anybody counts as one on every device. */
  hasPersons: boolean
}

export async function running(tx: Queries, siteId: number): Promise<Live> {
  const rows = await tx
    .select()
    .from(experiment)
    .where(
      and(
        eq(experiment.siteId, siteId),
        inArray(experiment.state, ['running', 'paused']),
        isNull(experiment.deletedAt),
      ),
    )
    .orderBy(asc(experiment.id))
  return {
    rows: rows.filter(({ state }) => state === 'running'),
    taking: rows,
    measured: rows.map(({ id }) => id),
    ...hasPersons(rows),
  }
}

/** What an environment shows: drafts as they are now, and what runs, each with a share of its own. */
export async function shownIn(tx: Queries, { id, environmentOf }: SiteRow): Promise<Live> {
  const found = await tx
    .select({ row: experiment, share: environmentShare.share })
    .from(environmentShare)
    .innerJoin(experiment, eq(experiment.id, environmentShare.experimentId))
    .where(
      and(
        eq(environmentShare.siteId, environmentOf!),
        eq(environmentShare.environmentId, id),
        inArray(experiment.state, ['draft', 'running', 'paused']),
        isNull(experiment.deletedAt),
      ),
    )
    .orderBy(asc(experiment.id))
  // Holdouts and groups share out the visitors of the site itself.
  const rows = found.map(({ row, share }) => ({
    ...row,

    share,
    startedAt: null,
    buckets: null,
    terms: { ...row.terms, group: null },
  }))
  return { rows, taking: rows, measured: rows.map((row) => row.id), ...hasPersons(rows) }
}

export function hasPersons(rows: readonly ExperimentRow[]): Pick<Live, 'hasPersons'> {
  return { hasPersons: rows.some(({ terms }) => terms.unit === 'person') }
}

export function environmentsOf(tx: Queries, siteId: number): Promise<SiteRow[]> {
  return tx.select().from(site).where(eq(site.environmentOf, siteId)).orderBy(asc(site.id))
}

export async function isShownIn(
  tx: Queries,
  siteId: number,
  environmentId: number,
  experimentId: number,
): Promise<boolean> {
  const shares = await tx
    .select({ share: environmentShare.share })
    .from(environmentShare)
    .where(
      and(
        eq(environmentShare.siteId, siteId),
        eq(environmentShare.environmentId, environmentId),
        eq(environmentShare.experimentId, experimentId),
      ),
    )
  return shares.length > 0
}

/**
 * What is served before what is tested, which changes the page as it is for everybody else; and those that take turns by
 * their ranks: whoever is asked first gets the visitor.
 */
export function inOrder(rows: readonly ExperimentRow[]): ExperimentRow[] {
  const isTest = ({ purpose }: ExperimentRow) => Number(purpose === 'test')
  return rows.toSorted(
    (one, other) => isTest(one) - isTest(other) || one.terms.rank - other.terms.rank || one.id - other.id,
  )
}

/** For an experiment its place in its group; null for one that stands alone. */
export async function groupPlaces(tx: Queries, siteId: number): Promise<(row: ExperimentRow) => GroupPlace | null> {
  const groups = new Map((await listGroups(tx, siteId)).map((group) => [group.id, group]))
  const salts = await groupSalts(tx, siteId)
  return ({ terms, buckets, share }) => {
    const group = groups.get(terms.group ?? 0)
    if (!group) return null
    if (group.kind === 'parts') return { salt: salts.get(group.id)!, ranges: firstBuckets(buckets ?? [], share) }
    return { members: group.members.filter(({ state }) => state !== 'draft').map((member) => member.experiment) }
  }
}

import { and, asc, eq } from 'drizzle-orm'
import type { SheetVariant } from '../../../core/sheet/content'
import type { Queries } from '../../database/connect'
import { experiment, person, rollout, site } from '../../database/schema'
import { variantsOf } from '../experiments/variants'
import { holdoutsOf, type HoldoutRow } from '../traffic/heldOut'

/** A rollout with the experiment that it comes from, and what it serves. */
export interface LiveRollout {
  row: typeof rollout.$inferSelect
  from: typeof experiment.$inferSelect
  /** Who began it. */
  person: string | null
  variant: SheetVariant
  /** Position of the variant in the experiment. */
  position: number
  /** What keeps its visitors from the experiment keeps them from its rollout, too. */
  holdouts: HoldoutRow[]
}

/** Rollouts of a site that are served, in the order of their start. */
export function liveRollouts(database: Queries, siteId: number): Promise<LiveRollout[]> {
  return rolloutsWhere(database, siteId, eq(rollout.isOn, true))
}

/** Rollouts of a site in the order of their start, whether they are served or not. */
export async function rolloutsWhere(
  database: Queries,
  siteId: number,
  condition?: ReturnType<typeof eq>,
): Promise<LiveRollout[]> {
  const rows = await database
    .select({ row: rollout, from: experiment, person: person.name })
    .from(rollout)
    .innerJoin(experiment, and(eq(experiment.siteId, siteId), eq(experiment.id, rollout.experimentId)))
    .leftJoin(person, eq(person.id, rollout.createdBy))
    .where(and(eq(rollout.siteId, siteId), condition))
    .orderBy(asc(rollout.id))
  if (rows.length === 0) return []
  const variants = await variantsOf(
    database,
    siteId,
    rows.map(({ from }) => from.id),
  )
  const heldOutOf = await holdoutsOf(database, siteId)
  return rows.map(({ row, from, person: begunBy }) => {
    const own = variants.get(from.id) ?? []
    const position = own.findIndex(({ id }) => id === row.variantId)
    const holdouts = new Map(
      [...heldOutOf(from.startedAt!), ...heldOutOf(row.createdAt)].map((each) => [each.id, each]),
    )
    return { row, from, person: begunBy, variant: own[position]!, position, holdouts: [...holdouts.values()] }
  })
}

/** In which order things are served, by their ids: the numbers of rollouts and of sheets are drawn together. */
export async function servedOrderOf(database: Queries, siteId: number): Promise<number[]> {
  const [row] = await database.select({ order: site.servedOrder }).from(site).where(eq(site.id, siteId))
  return row?.order ?? []
}

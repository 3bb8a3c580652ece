import { and, eq, inArray, isNull, lt, or } from 'drizzle-orm'
import { HOUR } from '../../../core/time/units'
import type { Database, Queries } from '../../database/connect'
import { rollout, rolloutCheck } from '../../database/schema'
import { lookAtPages } from '../drift/lookAtPages'
import { findSheet } from '../experiments/sheet'
import type { TryPage } from '../experiments/triedPages'
import { rolloutsWhere } from './liveRollouts'

/** Rollouts that are served and whose pages have not been looked at for an hour. */
export async function dueForRolloutCheck(
  database: Queries,
  now: Date,
): Promise<{ siteId: number; rolloutId: number }[]> {
  return database
    .select({ siteId: rollout.siteId, rolloutId: rollout.id })
    .from(rollout)
    .leftJoin(rolloutCheck, and(eq(rolloutCheck.siteId, rollout.siteId), eq(rolloutCheck.rolloutId, rollout.id)))
    .where(
      and(
        eq(rollout.isOn, true),
        or(isNull(rolloutCheck.checkedAt), lt(rolloutCheck.checkedAt, new Date(now.getTime() - HOUR))),
      ),
    )
}

/** Looks at the pages of a rollout as they are served, for what it changes there. See `checkDrift`. */
export async function checkRollout(
  database: Database,
  { siteId, rolloutId }: { siteId: number; rolloutId: number },
  now: Date,
  tryPage: TryPage,
): Promise<void> {
  const [found] = await rolloutsWhere(database, siteId, eq(rollout.id, rolloutId))
  if (!found) return
  const { row, position } = found
  const sheet = await findSheet(database, siteId, row.experimentId)
  // Of what was tested only this is served any more.
  const served = { ...sheet, factors: [], variants: [sheet.variants[0]!, sheet.variants[position]!] }
  const [before] = await database
    .select()
    .from(rolloutCheck)
    .where(and(eq(rolloutCheck.siteId, siteId), eq(rolloutCheck.rolloutId, rolloutId)))
  const { looked } = await lookAtPages(database, served, { before, told: [] }, now, tryPage)
  const { withLine, drift, since } = looked
  await database
    .insert(rolloutCheck)
    .values({ siteId, rolloutId, checkedAt: now, ...looked })
    .onConflictDoUpdate({
      target: rolloutCheck.rolloutId,
      set: { withLine, drift, since, checkedAt: now },
      setWhere: eq(rolloutCheck.siteId, siteId),
    })
}

/** What pages of rollouts say that they did not say at the start, by rollout. */
export async function driftOfRollouts(
  database: Queries,
  siteId: number,
  rolloutIds: readonly number[],
): Promise<Map<number, string[]>> {
  if (rolloutIds.length === 0) return new Map()
  const rows = await database
    .select({ id: rolloutCheck.rolloutId, drift: rolloutCheck.drift })
    .from(rolloutCheck)
    .where(and(eq(rolloutCheck.siteId, siteId), inArray(rolloutCheck.rolloutId, [...rolloutIds])))
  return new Map(rows.map(({ id, drift }) => [id, drift]))
}

import { and, desc, eq, isNull } from 'drizzle-orm'
import type { Queries } from '../../database/connect'
import { holdout } from '../../database/schema'

type HoldoutRow = typeof holdout.$inferSelect

/** Holdouts of a site, the latest first. */
export function allHoldouts(database: Queries, siteId: number): Promise<HoldoutRow[]> {
  return database
    .select()
    .from(holdout)
    .where(and(eq(holdout.siteId, siteId), isNull(holdout.deletedAt)))
    .orderBy(desc(holdout.startsAt), desc(holdout.id))
}

/** Whether what started at a moment was begun in the period of a holdout. */
export function concerns({ startsAt, endsAt }: Pick<HoldoutRow, 'startsAt' | 'endsAt'>, startedAt: Date): boolean {
  return startsAt <= startedAt && startedAt < endsAt
}

/** For an experiment, by its start, the holdouts that keep their visitors from it. */
export async function holdoutsOf(database: Queries, siteId: number): Promise<(startedAt: Date) => HoldoutRow[]> {
  const rows = await allHoldouts(database, siteId)
  return (startedAt) => rows.filter((row) => row.closedAt === null && concerns(row, startedAt))
}

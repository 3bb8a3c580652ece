import { and, eq, inArray } from 'drizzle-orm'
import type { Queries } from '../../database/connect'
import { experiment } from '../../database/schema'

/** What draws the buckets of experiments, and the versions of saved audiences that they were started with. */
export async function saltsOf(
  database: Queries,
  siteId: number,
  ids: readonly number[],
): Promise<Map<number, { salt: string; audienceVersions: Record<string, number> | null; servedFrom: number | null }>> {
  if (ids.length === 0) return new Map()
  const rows = await database
    .select({
      id: experiment.id,
      salt: experiment.salt,
      audienceVersions: experiment.audienceVersions,
      servedFrom: experiment.servedFrom,
    })
    .from(experiment)
    .where(and(eq(experiment.siteId, siteId), inArray(experiment.id, [...ids])))
  return new Map(rows.map(({ id, ...rest }) => [id, rest]))
}

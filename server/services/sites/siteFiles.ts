import { and, count, eq, isNotNull } from 'drizzle-orm'
import type { SiteFile } from '../../../shared/siteFile'
import type { Queries } from '../../database/connect'
import { experiment, site, siteFile, variant } from '../../database/schema'
import type { IntakeSite } from '../../intake/collect'

/** The compiled site file of a key, or null when no site has it. */
export async function findSiteFile(database: Queries, key: string): Promise<SiteFile | null> {
  const [found] = await database
    .select({ content: siteFile.content })
    .from(siteFile)
    .innerJoin(site, eq(site.id, siteFile.siteId))
    .where(eq(site.key, key))
  return found?.content ?? null
}

/** What intake needs to know of the site of a key. */
export async function findIntakeSite(database: Queries, key: string): Promise<IntakeSite | null> {
  const [found] = await database
    .select({ id: site.id, address: site.address, firstReportAt: site.firstReportAt })
    .from(site)
    .where(eq(site.key, key))
  if (!found) return null
  const started = await database
    .select({ id: experiment.id, variants: count() })
    .from(experiment)
    .innerJoin(variant, eq(variant.experimentId, experiment.id))
    .where(and(eq(experiment.siteId, found.id), isNotNull(experiment.startedAt)))
    .groupBy(experiment.id)
  return {
    id: found.id,
    address: found.address,
    variants: new Map(started.map((row) => [row.id, row.variants])),
    hasReported: found.firstReportAt !== null,
  }
}
